export { readEstateInPool, readScriptInPool, readTableInPool } from './pool';
