export { slateAtOnce, type AtOnce } from './at-once';
export { watchDue } from './due';
export { sentEntries } from './entry-routes';
export { slateEstate } from './estate';
export { addSlate, isOpen, patchSlate, putEntries, readEntries, readSlate } from './queries';
export { standsInTheWay } from './apply';
export { impactOf } from './impact';
export { slateRoutes } from './routes';
