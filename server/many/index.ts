export { manyRoutes } from './routes';
