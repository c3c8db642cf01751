export { networkRoutes } from './routes';
