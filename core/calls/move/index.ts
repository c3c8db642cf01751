export { actOn, beginMove, digitEvents, waitFor } from './move';
export type { HeardByOther, Move, MoveAction, MoveStep, TalkState } from './move';
