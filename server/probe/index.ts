export { probeRoutes } from './routes';
