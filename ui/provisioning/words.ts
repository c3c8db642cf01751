import type { SelfSetRow, SelfSetState } from '../phones/selfSet';

export const SELF_SET_WORDS: Record<SelfSetState, string> = {
  waiting: '▱ waits',
  asked: '▱ asked',
  refused: '▱ refused',
  locked: '▱ locked',
  'old-firmware': '▱ old firmware',
  loading: '▰ loads firmware',
  fetched: '▰ has its settings',
  restarting: '▰ restarts',
  registered: '▰ registered',
};
const STUCK: readonly SelfSetState[] = ['refused', 'locked', 'old-firmware'];
export const isStuck = ({ state }: SelfSetRow): boolean => STUCK.includes(state);
export const isWaiting = ({ state }: SelfSetRow): boolean => state === 'waiting' || state === 'asked';
export const toneOf = (row: SelfSetRow): 'rust' | 'kelp' | 'soft' =>
  isStuck(row) ? 'rust' : isWaiting(row) ? 'soft' : 'kelp';
