import type { SeatSitting } from '../../api/seats';
import { showNumbersIn } from '../../core/calls/dialling';
import type { SeatState } from '../../core/estate';
import { sayWhen } from '../desks/when';

export const STATES: Record<SeatState, string> = {
  ready: 'ready',
  paused: 'paused',
  'wrap-up': 'in wrap-up',
  'on-call': 'on a call',
  'signed-off': 'signed off',
};

const minutes = (ms: number) => (ms < 60_000 ? 'less than a minute' : `${Math.round(ms / 60_000)} min`);

/** How a seat stands, in one line: its state and since when, and who comes after the call. */
export function sayState(sitting: SeatSitting, zone: string): string {
  if (!sitting.leaving) return sayStanding(sitting, zone);
  return `on a call, signed off when it ends${sitting.next ? `; then ${sitting.next}` : ''}`;
}

function sayStanding({ state, why, wrapUntil, idleSince, misses }: SeatSitting, zone: string): string {
  const idle = minutes(Math.max(0, Date.now() - Date.parse(idleSince)));
  switch (state) {
    case 'paused':
      return `paused${why ? `: ${why}` : ''}`;
    case 'wrap-up':
      return `in wrap-up${wrapUntil ? ` until ${sayWhen(wrapUntil, zone)}` : ''}`;
    case 'ready':
      return `ready, idle for ${idle}${misses > 0 ? `, ${misses} missed in a row` : ''}`;
    case 'on-call':
    case 'signed-off':
      return STATES[state];
  }
}

/** How the phone stands that is to stay connected; empty: it is not to. */
export function sayLine({ line }: Pick<SeatSitting, 'line'>): string {
  if (!line) return '';
  switch (line.state) {
    case 'calling':
      return 'Their phone is being called, to stay connected.';
    case 'held':
      return 'Their phone stays connected: they hear a tone, then the caller.';
    case 'rings':
      return `Their phone is not connected (${line.why ?? 'it ended'}): it rings for each call.`;
  }
}

/** Who is at a seat, at which phone. */
export const sayWho = ({ name, phone }: SeatSitting): string => `${name}, at ${showNumbersIn(phone)}`;

export const PAUSES = ['Break', 'Meeting', 'Paperwork', 'Training'] as const;

/** A share in words: as fine as it is worth. */
export const percent = (share: number): string =>
  share === 0 || share === 1
    ? `${share * 100} %`
    : `${(share * 100).toFixed(share > 0.995 || share < 0.005 ? 2 : share > 0.95 || share < 0.05 ? 1 : 0)} %`;
export const saySeconds = (s: number): string =>
  s < 90 ? `${s.toFixed(s < 10 ? 1 : 0)} s` : `${(s / 60).toFixed(1)} min`;

/** A number that is typed, with a comma or a dot; null: none between these two. */
export function readBetween(text: string, least: number, most: number): number | null {
  const value = /^\d{1,6}([.,]\d{1,2})?$/.test(text.trim()) ? Number(text.trim().replace(',', '.')) : NaN;
  return value >= least && value <= most ? value : null;
}
