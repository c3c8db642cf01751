export { templateRoutes } from './routes';
