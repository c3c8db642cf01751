export { type Account, EVERY_ROLE, ROLES, type Role, STAFF } from './account';
export { aboutError, onceAMinute, openLog } from './log';
export { COMES_BETWEEN, lookingAgain } from './look-again';
export { newPdf, PDF_FONTS, PDF_MARGIN, PDF_SIZE, type Pdf } from './pdf';
export { LONG_WORK, closePools, runningTasks, workerPool } from './pool';
export { busy, isRefusal, notRight, refusal } from './refusal';
export type { Reply, SendEvent } from './reply';
export { scriptAt } from './scripts';
export { readShared, sharedJson } from './shared-json';
