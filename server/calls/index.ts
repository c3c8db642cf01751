export { callRoutes } from './routes';
export { lookThroughNights, watchNights } from './night';
