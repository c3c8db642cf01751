export { callingRoutes } from './calling';
export { callRoutes } from './routes';
export { lookThroughNights, watchNights } from './night';
export { callImportRoutes } from './import-routes';
export { takeUpCallImports } from './imports';
