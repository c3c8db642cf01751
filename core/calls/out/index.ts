export { PRICED_MS, waysToCall, type NowKnown, type WayKind, type WayToCall } from './ways';
export {
  accessPerson,
  accessPin,
  accessTyped,
  beginAccess,
  knownCaller,
  ownExtension,
  predictAccess,
  type AccessPredicted,
  type AccessCaller,
  type AccessEnd,
  type AccessState,
  type AccessTurn,
} from './access';
export { numberOutside, WANTED_WORDS, wanted, type Wanted } from './wanted';
export { leftToday, USED_UP, type LeftToday, type UsedToday } from './limits';
export { numberShown, ownNumber, screened, type Shown } from './shown';
