export { readScriptInPool, readTableInPool } from './pool';
