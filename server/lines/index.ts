export { lineRoutes } from './routes';
