export {
  matchesMap,
  readDigitMap,
  SYMBOLS,
  type DigitMap,
  type MapFault,
  type ReadDigitMap,
} from './digit-map';
export { readTable, tableFaults, tableSchema } from './schema';
export { compileTable, endsOf, rewritten, traceRoute } from './trace';
export * from './types';
