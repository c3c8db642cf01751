export { newsRoutes } from './routes';
