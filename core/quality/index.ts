export * from './quality';
export {
  LINE_MAPPINGS,
  lineOf,
  mappingOf,
  type Echoed,
  type LineFigures,
  type LineMapping,
  type LineSecond,
  type SeenAs,
} from './measured';
export { lineAdvice, lineWords, qualityOfLine, type LineAdvice } from './words';
