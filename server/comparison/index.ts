export { comparisonRoutes } from './routes';
