export * from './types';
export { provePromises } from './prove';
export { findMend, type Mend } from './mend';
export { sayPromise, type PromiseNames } from './words';
