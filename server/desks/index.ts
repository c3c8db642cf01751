export { deskRoutes } from './routes';
