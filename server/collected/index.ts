export { calledAt } from './called';
export { keepMonths, keptDays, openCollector, type Collector } from './collector';
export { collectedRoutes } from './routes';
export { listed, recordIn, rowOf } from './page';
export { partOffMonths } from './months';
export { callKey, deleteInParts, readCallKey } from './queries';
export { forgetOlder, putCalls, readCalls, readRegistrationChanges, REGISTRATION_STATES } from './queries';
export { ladderLength, readLadder, type KeptLadder } from './ladders';
