export { putCheck, readChecks } from './checks';
export { liveRoutes } from './live-routes';
export { phoneRoutes, statusesOf } from './routes';
