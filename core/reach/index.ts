export * from './types';
export { compileEstate, type EstateIndex, type KnownEndpoint, type Destination } from './compile';
export { ANY_INSIDE_CALLER, ANY_OUTSIDE_CALLER, runCall } from './run';
export { callFaults, callSchema, strangersInWorld } from './call-schema';
export { chooseTreatment, scheduleHolds, type Circumstances, type Chosen } from './choose';
export {
  endingPhrase,
  endpointName,
  legEndText,
  outcomeText,
  shortName,
  theEndpoint,
  whose,
} from './explain';
export { runInDetail, type DetailedRun } from './run';
export { quickRunner, type QuickResult, type QuickRunner } from './quick';
export { type Band, type LegDetail } from './state';
export {
  tryCall,
  toneOf,
  type Strip,
  type StripLane,
  type StripMark,
  type StripSegment,
  type Tone,
  type Tried,
} from './strip';
export { describeTreatment, plain, type Piece } from './describe';
export { judgeReach, REACH_STATES, type Judgement, type ReachState } from './judge';
