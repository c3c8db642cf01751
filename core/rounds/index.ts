export { readRoundList, roundColumns, whyNotCalled, type ReadRoundList, type RoundJudge } from './list';
export {
  afterRoundCall,
  beginningRound,
  channelsFor,
  mayCallAt,
  MOST_AT_ONCE,
  MOST_TRIES,
  nextAllowedMs,
  roundPlanSchema,
  type AfterCall,
} from './plan';
export {
  CALL_ENDS,
  NUMBER_STATES,
  ROUND_KEYS,
  type CallEnd,
  type KeptState,
  type ListRow,
  type NumberState,
  type RoundKey,
  type RoundPlan,
} from './types';
export { roundReport, sayNumberState, type ReportRow } from './words';
