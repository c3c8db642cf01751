export { routingRoutes } from './routes';
