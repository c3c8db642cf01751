export * from './types';
export { MOST_RECORDS, readRecords, recordValues, type ReadRecords } from './read';
export { answerTimes, ringingOf, type AnswerTimes } from './times';
export { recordLine, recordOfCall, type CallWent } from './write';
export { callOf, replay, worldOf, type Replayed } from './replay';
export {
  chargedMs,
  costOf,
  legCost,
  lineFor,
  type Cost,
  type NumberCost,
  type Tariff,
  type TariffLine,
} from './cost';
