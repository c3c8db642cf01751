export { effectRoutes } from './routes';
