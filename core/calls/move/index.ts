export { actOn, beginMove, digitEvents, waitFor } from './move';
export type { Heard, Move, MoveAction, MoveStep, TalkState } from './move';
