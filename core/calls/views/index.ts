export { type TimesFault, adviseTimes, carrierTimes, timesFaults } from './advice';
export { type Piece, describeTreatment, describeWhen, plain } from './describe';
export { type FlowBranch, type FlowNode, flowOf } from './flow';
export { type Judgement, REACH_STATES, type ReachState, judgeReach } from './judge';
export {
  type Strip,
  type StripLane,
  type StripMark,
  type StripSegment,
  type Tried,
  toneOf,
  tryCall,
} from './strip';
export {
  CIRCUMSTANCES,
  CIRCUMSTANCE_WORDS,
  type Circumstance,
  WEEK_ENDS,
  WEEK_END_WORDS,
  type WeekCell,
  type WeekEnd,
  behaviourIn,
  weekDay,
  weekDays,
  weekMap,
} from './week';
