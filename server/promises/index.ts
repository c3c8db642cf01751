export { proveInPool } from './pool';
export { promiseRoutes } from './routes';
