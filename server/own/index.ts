export { actOnCode } from './codes';
export { ownRoutes } from './routes';
