export {
  followCall,
  type FarEnd,
  type Following,
  type Heard,
  type Look,
  type Surroundings,
  type Todo,
} from './follow';
export { compareTraces, type Departure } from './compare';
export { isFirm } from './firm';
export { worldOf } from './world';
