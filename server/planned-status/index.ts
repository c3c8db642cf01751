export { applyPlanned } from './plan';
export { plannedStatusRoutes } from './routes';
