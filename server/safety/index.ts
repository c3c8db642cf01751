export { safetyRoutes } from './routes';
