export { actOnCode } from './codes';
export { readLimits, readRequests } from './queries';
export { ownRoutes } from './routes';
