export { estateRoutes } from './routes';
export { tryRoutes } from './tries';
