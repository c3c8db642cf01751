export { rosterRoutes } from './routes';
