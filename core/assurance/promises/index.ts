export * from './types';
export { promisesFor } from './kept';
export { provePromises } from './prove';
export { findMend, type Mend } from './mend';
export { momentsOf } from './moments';
export { promiseNames, sayPromise, type PromiseNames } from './words';
export { judgeOf, type Judge } from './judge';
