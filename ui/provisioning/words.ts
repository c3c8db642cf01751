import type { ProvisionedRow } from '../../api/provisioning';
import type { ProvisioningState } from '../data/provisioning';

export const PROVISIONING_WORDS: Record<ProvisioningState, string> = {
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
const STUCK: readonly ProvisioningState[] = ['refused', 'locked', 'old-firmware'];
export const isStuck = ({ state }: ProvisionedRow): boolean => STUCK.includes(state);
export const isWaiting = ({ state }: ProvisionedRow): boolean => state === 'waiting' || state === 'asked';
export const toneOf = (row: ProvisionedRow): 'rust' | 'kelp' | 'soft' =>
  isStuck(row) ? 'rust' : isWaiting(row) ? 'soft' : 'kelp';
