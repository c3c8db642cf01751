import { showNumber } from '../calls/dialling';
import { adviseTimes, carrierTimes, timesFaults } from '../calls/views';
import { changeTargets } from '../editing';
import { endpointTimes, type Endpoint, type Ms, type Person } from '../estate';
import type { CarrierSeen, Measured } from './advice';

/** Digits after the country code that tell one carrier, or area, from another. */
const AFTER_COUNTRY = 3;

/** The beginning of a number that stands for its carrier: its country and the three digits after. */
export function carrierPrefix(number: string): string {
  const [code = '+'] = showNumber(number).split(' ');
  return number.slice(0, code.length + AFTER_COUNTRY);
}

/** Times of a carrier to be set at the phones that it carries; null: too little was measured. */
export interface ProposedTimes {
  readonly setupMs: Ms | null;
  readonly offAnswerMs: Ms | null;
  readonly mailboxAfterMs: Ms | null;
}

/** Fewer than these are not gone by. */
const FEWEST = 20;
const TO_MS = 100;
const round = (ms: Ms): Ms => Math.round(ms / TO_MS) * TO_MS;

/**
 * What to set for a carrier: set-up and the voicemail of one that is off as slow as nineteen of twenty are, the
 * voicemail after ringing as quick as one of ten is; since it last changed, where it did.
 */
export function proposedTimes({ setup, offAnswer, pickUp }: CarrierSeen): ProposedTimes {
  const of = (measured: Measured | null, value: (measured: Measured) => Ms) =>
    measured && measured.n >= FEWEST ? round(value(measured)) : null;
  return {
    setupMs: of(setup, ({ q95 }) => q95),
    offAnswerMs: of(offAnswer, ({ q95 }) => q95),
    mailboxAfterMs: of(pickUp, ({ q10, changed }) => Math.min(q10, changed?.after ?? q10)),
  };
}

/** What is told apart from what is set: less than a second is not. */
const CLOSE_MS = 1000;

/** The phone with the times that were measured; the same one where they are close to what is set. */
function withTimes<T extends Endpoint>(endpoint: T, proposed: ProposedTimes): T {
  const now = endpointTimes(endpoint);
  const changes = (['setupMs', 'offAnswerMs', 'mailboxAfterMs'] as const).flatMap((field) => {
    const [is, wanted] = [now[field], proposed[field]];
    // One that has no voicemail keeps none.
    return wanted === null || is === null || Math.abs(is - wanted) < CLOSE_MS
      ? []
      : [[field, wanted] as const];
  });
  return changes.length === 0 ? endpoint : { ...endpoint, ...Object.fromEntries(changes) };
}

/**
 * A person with the measured times at the phones of a carrier, and guards and times to stop ringing moved to where they
 * are safe with them.
 * @returns null where nothing changes
 */
export function withMeasuredTimes(person: Person, prefix: string, proposed: ProposedTimes): Person | null {
  const endpoints = person.endpoints.map((endpoint) =>
    endpoint.number !== undefined && carrierPrefix(endpoint.number) === prefix
      ? withTimes(endpoint, proposed)
      : endpoint,
  );
  if (endpoints.every((endpoint, n) => endpoint === person.endpoints[n])) return null;
  const changed = new Map(
    endpoints.flatMap((endpoint, n) =>
      endpoint === person.endpoints[n] ? [] : [[endpoint.id, endpoint] as const],
    ),
  );
  return changeTargets({ ...person, endpoints }, (target, forMs) => {
    const endpoint = changed.get(target.endpoint);
    const times = endpoint ? carrierTimes(endpoint) : null;
    if (!times || timesFaults(target, forMs, times).length === 0) return target;
    const { take } = adviseTimes(times);
    return take ? { ...target, acceptAfterMs: take.guardMs, giveUpAfterMs: take.giveUpMs } : target;
  });
}
