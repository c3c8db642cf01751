export { answerAccess, callWithheld, hungUpAtAccess } from './access';
export { callingRoutes } from './calling';
export { callOver, dayOf, limitsReached } from './limits';
export { callRoutes } from './routes';
export { lookThroughNights, watchNights } from './night';
export { callImportRoutes } from './import-routes';
export { takeUpCallImports } from './imports';
