export { callFaults, strangersInWorld } from './call-schema';
export { callerHolds, chooseTreatment, scheduleHolds } from './choose';
export {
  type EstateIndex,
  type KnownEndpoint,
  compileEstate,
  recompileEstate,
  takeOver,
  withPeople,
  type PersonChange,
  knownEndpoint,
  bareNumber,
  bareUri,
  callerKnown,
  endpointAt,
} from './compile';
export { isBeforeGuard } from './guard';
export { LAST_LEG_MS } from './endings';
export {
  FAILURES,
  endingPhrase,
  endpointName,
  endpointTitle,
  legEndText,
  lowerFirst,
  outcomeText,
  shortName,
  theEndpoint,
  voicemailFor,
  whose,
} from './explain';
export { DEFAULT_CONFIRM_PRESS_MS } from './leg';
export { isGone, isRegisteredAs } from './registered';
export { ANY_INSIDE_CALLER, ANY_OUTSIDE_CALLER, type DetailedRun, runCall, runInDetail } from './run';
export { rankOf } from './group-round';
export { seatTurn, type SeatTurn } from './seats';
export { longestSilence } from './silence';
export { type Band, type LegDetail, type Reading, type Seen, readingName, seconds } from './state';
export {
  type Call,
  type CallEvent,
  ENDPOINT_STATES,
  type EndpointBehaviour,
  type EndpointState,
  type FailureWord,
  type Leg,
  type LegEnd,
  isLost,
  LEG_ENDS,
  NOT_DIALLED_ENDS,
  OUTCOME_KINDS,
  type Outcome,
  type OutcomeKind,
  type Press,
  type SeatInCall,
  type Trace,
  type World,
} from './types';
