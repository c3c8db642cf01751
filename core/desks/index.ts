export { dueOff, EARLY_MS, nextDaily, shiftEnd, type DueOff } from './due';
export {
  hotDeskOf,
  isAllowedAt,
  SIGN_OFF_REASONS,
  SIGN_ON_REFUSALS,
  SIGN_ON_WAYS,
  signOnRefusal,
  type SignOffReason,
  type SigningOn,
  type SignOnRefusal,
  type SignOnWay,
} from './signing';
export { deskEndpoint, deskOfEndpoint } from './phone';
export { awayBehaviours, deskPhonesAway, isRostered } from './reach';
export {
  DESK_STANDING,
  sayChance,
  sayDeskPromise,
  sayKeeps,
  sayNeeded,
  sayRefusal,
  saySignOff,
  saySignOn,
} from './words';
export { weekAt, weekOfDate, type Week } from './week';
export {
  desksAt,
  desksForAll,
  enoughDesks,
  HALF_HOUR_MS,
  loadsAt,
  noneAllows,
  withoutDesk,
  worstOf,
  type EnoughDesks,
  type HalfHour,
  type Load,
  type RosterChange,
} from './enough';
export { deskSavings, type DeskSaving } from './moves';
export { deskPlan, initials, shortNames, type DeskRoom, type DrawnDesk } from './plan';
export { judgeDeskPromises, PROMISED_WEEKS, type DeskStanding, type DeskVerdict } from './promises';
export { shiftsAt, type ShiftAt } from './shifts';
