export { takeUpImports } from './jobs';
export { importRoutes } from './routes';
