import type { RoundCounts, RoundRow, RoundState } from '../../api/rounds';
import { NUMBER_STATES, sayNumberState, type NumberState } from '../../core/rounds';

const STATES: Readonly<Record<RoundState, string>> = {
  draft: 'Draft',
  asked: 'Waits for approval',
  approved: 'Approved, not started',
  running: 'Calling',
  paused: 'Paused',
  stopped: 'Stopped',
  done: 'Done',
};
export const sayRoundState = (state: RoundState): string => STATES[state];

/** `12 heard, 3 waiting`, those first that were reached. */
export const sayCounts = (counts: RoundCounts): string =>
  inOrder(counts)
    .map(([state, count]) => `${count} ${sayNumberState(state)}`)
    .join(', ');

const ORDER: readonly NumberState[] = [
  'heard',
  'voicemail-left',
  'calling',
  'waiting',
  'not-allowed-now',
  ...NUMBER_STATES,
];
/** The states that any number is in, those that matter most first. */
export const inOrder = (counts: RoundCounts): readonly (readonly [NumberState, number])[] =>
  [...new Set(ORDER)].flatMap((state) => {
    const count = counts[state] ?? 0;
    return count > 0 ? [[state, count] as const] : [];
  });

export const sayRow = ({ state, total, counts }: RoundRow): string =>
  total === 0 ? `${STATES[state]}, no list yet` : `${STATES[state]}: ${sayCounts(counts)}`;

/** How many numbers of a list need no call any more. */
export const doneOf = ({ counts, total }: Pick<RoundRow, 'counts' | 'total'>): number =>
  total - (counts.waiting ?? 0) - (counts['not-allowed-now'] ?? 0) - (counts.calling ?? 0);
