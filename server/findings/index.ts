export { findingRoutes } from './routes';
