export { recordRoutes } from './routes';
