export { actOnCode } from './codes';
export { addRequest, readLimits, readRequests } from './queries';
export { ownRoutes } from './routes';
