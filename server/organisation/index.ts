export { organisationRoutes } from './routes';
