import type { LostPhone, PhoneRow, Registration } from '../../api/phones';
import { isNumberKind } from '../../core/estate';
import { clockOf, registrationWords } from './words';

/** `away`: whichever shared desk somebody signs on to, while they are signed on to none. */
export type State = 'registered' | 'asleep' | 'lost' | 'never' | 'away' | 'public';
export const STATE_WORDS: Record<State, string> = {
  registered: '▰ registered',
  asleep: '▰ asleep',
  lost: '▱ lost',
  never: '▱ not registered',
  away: 'at no desk',
  public: 'public network',
};

/** A phone with where it is registered. */
export interface Shown extends PhoneRow {
  readonly state: State;
  readonly registrations: readonly Registration[];
  readonly lost: LostPhone | null;
}

const isPublic = (row: PhoneRow) => isNumberKind(row.kind);

export function stateOf(
  row: PhoneRow,
  registrations: readonly Registration[],
  lost: LostPhone | null,
): State {
  if (isPublic(row)) return 'public';
  if (registrations.some(({ asleep }) => !asleep)) return 'registered';
  if (registrations.length > 0) return 'asleep';
  if (row.kind === 'hot-desk') return 'away';
  return lost ? 'lost' : 'never';
}

export function textOf(row: Shown): string {
  const { registrations, lost, does } = row;
  const [first] = registrations;
  if (first)
    return registrations.length > 1
      ? `${registrations.length} devices · ${registrationWords(first)}`
      : registrationWords(first);
  if (row.state === 'away') return 'signed on at no shared desk';
  if (lost) return `since ${clockOf(lost.lostMs)}: ${lost.detail}`;
  return does === 'off' ? 'its stand-in is switched off' : does === 'bare' ? 'waits for provisioning' : '';
}

/** Whether somebody should look after it. */
export const isBad = ({ state, does }: Shown): boolean =>
  state === 'lost' || (state === 'never' && does !== 'off' && does !== 'bare');
export const sayState = ({ state }: Shown): string => STATE_WORDS[state].replace(/^\W+/, '');
