export {
  followCall,
  type FarEnd,
  type Following,
  type Heard,
  type Look,
  type Surroundings,
  type Todo,
} from './follow';
export { estateAsIf, type AsIf } from './as-if';
export { compareTraces, type Departure } from './compare';
export { isFirm } from './firm';
export { ladderOf, type CarriedMessage, type Ladder, type LadderRow, type PartyNames } from './ladder';
export { liveStrip } from './strip';
export { worldOf } from './world';
