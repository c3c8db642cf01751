export * from './types';
export { provePromises } from './prove';
export { longestSilence } from './judge';
