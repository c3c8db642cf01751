export {
  ENTRY_KINDS,
  entryKey,
  isListKind,
  isWholeKind,
  LISTS,
  WHOLES,
  type SlateEntry,
  type EntryKind,
  type Identified,
  type ListKind,
  type WholeKind,
} from './types';
export {
  applyEntries,
  faultsBrought,
  objectFinder,
  staleEntries,
  type BroughtFault,
  type Stale,
} from './apply';
export { carryDaily, onlyDaily, sameButDaily } from './daily';
export { mergeThree, type Merged } from './merge';
export { affectedBy, extensionOwners, sliceAt, startsOf } from './affected';
export type { Start } from './types';
export { sayBoth, sayPath, saySettings, sayValue, sayWhere } from './say-change';
export { namesOf, withNames, type Names, type ToldChange } from './names';
export { changedPeople, followersOf, hasSamePhones, type Followers } from './followers';
export { entriesBetween } from './between';
export { takenBack, type TakenBack } from './take-back';
