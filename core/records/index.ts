export * from './types';
export { MOST_RECORDS, readRecords, recordValues, type ReadRecords } from './read';
export { answerTimes, ringingOf, type AnswerTimes } from './times';
export { recordLine, recordOfCall, type CallWent } from './write';
export { behaviours, callOf, outcomeOf, replay, worldOf, type Replayed } from './replay';
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
export { beganMs, legsBeside, SAME_WITHIN_MS, sayBeside, type LegBeside } from './beside';
export {
  explainCall,
  LOST_OUTCOMES,
  whyNotRung,
  type DeskThen,
  type Explained,
  type Then,
  type Went,
} from './explain';
export { patternsOf, type Pattern, type Trait, type TraitCall } from './patterns';
export {
  carrierTimesOf,
  FEW_ANSWERS,
  gainOf,
  shareAt,
  timeForShare,
  type CarrierSeen,
  type Changed,
  type Gain,
  type Measured,
} from './advice';
export {
  channelsTaken,
  trafficOf,
  trunkOfLeg,
  type Taken,
  type TrunkHour,
  type TrunkTraffic,
} from './traffic';
export { addedEffects, effectCounter, type EffectCounter, type RecordsEffect, type Turned } from './effect';
export { recordStrip } from './strip';
export { carrierPrefix, proposedTimes, withMeasuredTimes, type ProposedTimes } from './carriers';
export {
  CALL_FIELD_NAMES,
  CALL_FIELDS,
  callColumnsFault,
  callHeadings,
  callReader,
  callRows,
  DATE_ORDERS,
  guessOrder,
  isEitherOrder,
  JOIN_ROWS,
  matchCallColumns,
  readLength,
  readMoment,
  wordKey,
  type CallChoices,
  type CallColumns,
  type CallField,
  type CallReader,
  type CallRowKind,
  type DateOrder,
  type RowFault,
  type RowsRead,
  jsonPieces,
  type Piece,
} from './rows';
