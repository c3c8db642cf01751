export {
  matchesMap,
  readDigitMap,
  SYMBOLS,
  type DigitMap,
  type MapFault,
  type ReadDigitMap,
} from './digit-map';
export { readTable, readTableForAnalysis, tableFaults, tableSchema } from './schema';
export { analyseTable, routesReached, type Reached } from './analyse';
export * from './findings';
export { rewritten } from './languages';
export { isE164 } from './lists';
export { compileTable, endsOf, traceRoute } from './trace';
export * from './types';
export { readEstateFile } from './estate-file';
export { wayOfNumber, type NumberWay } from './way';
export { applyMend } from './mends';
export { analyseAndTry } from './tried-mends';
export {
  CAUSES,
  FORM_NAMES,
  namesIn,
  sayCause,
  sayRewrite,
  sayRoute,
  sayRouteThen,
  sayRouteWhen,
  type RouteNames,
} from './describe';
export {
  arrivalsOf,
  sayTableChange,
  tableImpact,
  type TableEnd,
  type TableChange,
  type TableImpact,
} from './impact';
export { proposeTwoSystems, type TwoSystems } from './two-systems';
