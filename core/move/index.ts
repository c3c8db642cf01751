export { actOn, beginMove, DEFAULT_MOVE, digitEvents, waitFor } from './move';
export type { Heard, Move, MoveAction, MoveSettings, MoveStep, TalkState } from './move';
