export { keepMonths, openCollector, type Collector } from './collector';
export { collectedRoutes } from './routes';
export { forgetOlder, putCalls, readCalls, readRegistrationChanges, REGISTRATION_STATES } from './queries';
