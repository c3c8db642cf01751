export { checkTable } from './check';
export { analyseInPool, compareInPool, guardInPool } from './pool';
export { listRecord } from './record';
export { bareList, namedList, sentList } from './sent';
export { type LiveTable, analysisOptions, liveTable, readyTable, wholeTable } from './store';
