export { isGone, isRegisteredAs } from './registered';
export { heardIn, longestSilence } from './silence';
export * from './types';
export {
  compileEstate,
  knownEndpoint,
  type EstateIndex,
  type KnownEndpoint,
  type Destination,
} from './compile';
export { ANY_INSIDE_CALLER, ANY_OUTSIDE_CALLER, runCall } from './run';
export { callFaults, callSchema, strangersInWorld } from './call-schema';
export { callerHolds, chooseTreatment, scheduleHolds, type Circumstances, type Chosen } from './choose';
export {
  endingPhrase,
  endpointName,
  FAILURES,
  legEndText,
  lowerFirst,
  outcomeText,
  shortName,
  theEndpoint,
  whose,
} from './explain';
export { LAST_LEG_MS } from './endings';
export { DEFAULT_CONFIRM_PRESS_MS } from './leg';
export { runInDetail, type DetailedRun } from './run';
export { quickRunner, type QuickResult, type QuickRunner } from './quick';
export {
  readingName,
  seconds,
  type Asked,
  type Band,
  type LegDetail,
  type Reading,
  type Seen,
} from './state';
export {
  tryCall,
  toneOf,
  type Strip,
  type StripLane,
  type StripMark,
  type StripSegment,
  type StripWindow,
  type Tone,
  type Tried,
} from './strip';
export { describeTreatment, describeWhen, plain, type Piece } from './describe';
export { judgeReach, REACH_STATES, type Judgement, type ReachState } from './judge';
export {
  adviseTimes,
  carrierTimes,
  HUMAN_REACTION_MS,
  LEAST_RINGING_MS,
  timesFaults,
  type CarrierTimes,
  type MsRange,
  type TimesAdvice,
  type TimesFault,
  type Window,
} from './advice';
export {
  behaviourIn,
  CIRCUMSTANCE_WORDS,
  CIRCUMSTANCES,
  HALF_HOUR_MS,
  WEEK_END_WORDS,
  WEEK_ENDS,
  weekDay,
  weekDays,
  weekEnd,
  weekMap,
  type Called,
  type Circumstance,
  type WeekCell,
  type WeekEnd,
} from './week';
export { flowOf, type FlowBranch, type FlowNode } from './flow';
