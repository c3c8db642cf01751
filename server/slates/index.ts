export { watchDue } from './due';
export { slateEstate } from './estate';
export { addSlate, isOpen, patchSlate, putEntries, readEntries, readSlate } from './queries';
export { rippleOf } from './ripple';
export { slateRoutes } from './routes';
