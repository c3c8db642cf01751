export { promiseRoutes } from './routes';
