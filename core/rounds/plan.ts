import type { Schedule, Trunk } from '../estate';
import { parts } from '../estate';
import { isZone } from '../zones';
import { scheduleClock, type ScheduleClock } from '../calls/time';
import { ROUND_KEYS, type CallEnd, type KeptState, type RoundKey, type RoundPlan } from './types';

export const MOST_AT_ONCE = 50;
export const MOST_TRIES = 5;

export const roundPlanSchema = parts.closed<RoundPlan>({
  name: parts.requiredText(120).trim().min(1, 'is missing'),
  recording: parts.count(1).nullable().defined('is missing'),
  keys: parts
    .list(
      parts.closed<RoundKey>({
        key: parts.oneOf(ROUND_KEYS).required('is missing'),
        play: parts.count(1).nullable().defined('is missing'),
      }),
    )
    .max(ROUND_KEYS.length, `has ${ROUND_KEYS.length} keys at most`)
    .test('once', 'names a key twice', (keys: readonly RoundKey[] | undefined) => {
      const named = (keys ?? []).flatMap((each) => (each?.key === undefined ? [] : [each.key]));
      return new Set(named).size === named.length;
    }),
  atOnce: parts.count(1, MOST_AT_ONCE).required('is missing'),
  tries: parts.count(1, MOST_TRIES).required('is missing'),
  pauseMinutes: parts.count(1, 1440).required('is missing'),
  ringS: parts.count(5, 120).required('is missing'),
  hours: parts.closed({ from: parts.clock(), to: parts.clock() }).required('is missing'),
  permission: parts.requiredId(),
  callerId: parts.e164().nullable().defined('is missing'),
  keepFree: parts.count(0, 10_000).required('is missing'),
});

/** A round as it begins, before anything is set. */
export const beginningRound = (name: string, permission: string): RoundPlan => ({
  name,
  recording: null,
  atOnce: 5,
  tries: 2,
  pauseMinutes: 15,
  ringS: 30,
  hours: { from: '09:00', to: '20:00' },
  permission,
  callerId: null,
  keepFree: 4,
});

const EVERY_DAY = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const;

/** When somebody in a zone may be called; null: always, for the hours are those of the whole day. */
export function allowedClock({ hours }: Pick<RoundPlan, 'hours'>, zone: string): ScheduleClock | null {
  if (hours.from === hours.to) return null;
  const schedule: Schedule = {
    id: zone,
    name: zone,
    timeZone: zone,
    weekly: [{ days: EVERY_DAY, from: hours.from, to: hours.to }],
  };
  return scheduleClock(schedule);
}

/** Whether somebody in a zone may be called at a moment. A zone that is not known is never called. */
export const mayCallAt = (plan: Pick<RoundPlan, 'hours'>, zone: string, atMs: number): boolean =>
  isZone(zone) && (allowedClock(plan, zone)?.inside(atMs) ?? true);

/** When the next of some zones may be called; null: one may be already, or none ever. @param atMs now */
export function nextAllowedMs(
  plan: Pick<RoundPlan, 'hours'>,
  zones: readonly string[],
  atMs: number,
): number | null {
  let next = Number.POSITIVE_INFINITY;
  for (const zone of zones) {
    if (!isZone(zone)) continue;
    const clock = allowedClock(plan, zone);
    if (!clock || clock.inside(atMs)) return null;
    next = Math.min(next, clock.nextChange(atMs));
  }
  return Number.isFinite(next) ? next : null;
}

/** How many calls of a round the trunks carry at once, those kept free for people left out. */
export const channelsFor = (trunks: readonly Trunk[], keepFree: number): number =>
  trunks.reduce((sum, { channels }) => sum + Math.max(0, channels - keepFree), 0);

/** What a number is after a call. */
export interface AfterCall {
  readonly state: KeptState;
  /** When it is called again at the earliest; null: it is not. */
  readonly againMs: number | null;
  /** Whether the number is never to be called again by any round. */
  readonly never: boolean;
  readonly why: string;
}

/** Ends after which a number is called again while tries are left, and what it is once none are. */
const AGAIN: Partial<Record<CallEnd, { readonly state: KeptState; readonly why: string }>> = {
  busy: { state: 'busy', why: '' },
  'no-answer': { state: 'no-answer', why: '' },
  rejected: { state: 'refused', why: 'the call was rejected' },
  'hung-up': { state: 'refused', why: 'hung up before the end' },
  unreachable: { state: 'no-answer', why: 'switched off or out of coverage' },
};
/** A call that was not placed is put off for so long. */
const NO_CHANNEL_MS = 5000;

/**
 * How a number stands after a call of it.
 * @param tries how often it has been called, this call included
 * @param keys the keys that played something, in the order in which they were pressed
 */
export function afterRoundCall(
  plan: Pick<RoundPlan, 'tries' | 'pauseMinutes'>,
  end: CallEnd,
  tries: number,
  nowMs: number,
  keys = '',
): AfterCall {
  const after = keys === '' ? '' : `pressed ${[...keys].join(', ')}`;
  const final = (state: KeptState, why = '', never = false): AfterCall => ({
    state,
    againMs: null,
    never,
    why: [after, why].filter(Boolean).join(', then '),
  });
  switch (end) {
    case 'key-1':
      return final('heard', 'pressed 1');
    case 'listened':
      return final('heard', 'listened to the end');
    case 'key-9':
      return final('never-call', 'pressed 9: never again', true);
    case 'voicemail':
      return final('voicemail-left');
    case 'no-such-number':
      return final('bad-number', 'the carrier knows no such number');
    case 'lost':
      return final('unknown', 'the phone system ended during the call');
    case 'no-channel':
      return {
        state: 'waiting',
        againMs: nowMs + NO_CHANNEL_MS,
        never: false,
        why: 'every channel was taken',
      };
    case 'busy':
    case 'no-answer':
    case 'rejected':
    case 'hung-up':
    case 'unreachable': {
      const { state, why } = AGAIN[end]!;
      if (tries >= plan.tries) return final(state, why);
      return {
        state: 'waiting',
        againMs: nowMs + plan.pauseMinutes * 60_000,
        never: false,
        why: why || state,
      };
    }
  }
}
