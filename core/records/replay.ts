import type { EstateIndex, Call, EndpointBehaviour, Outcome, World } from '../calls/engine';
import { endpointAt, runCall } from '../calls/engine';
import { isoIn } from '../calls/time';
import type { Ms } from '../estate';
import type { CallRecord, RecordedLeg } from './types';

/** How a phone must have behaved for a leg to end as it did; docs/formats.md has the table. */
function behaviourOf(record: CallRecord, leg: RecordedLeg): EndpointBehaviour {
  const { dialledMs, alertMs, answerMs, endMs, end } = leg;
  const setup = alertMs === null ? {} : { setupMs: alertMs - dialledMs };
  const from = alertMs ?? dialledMs;
  switch (end) {
    case 'connected':
      if (record.outcome === 'carrier-voicemail')
        return alertMs === null
          ? { state: 'off', offAnswerMs: endMs - dialledMs }
          : { state: 'ready', ...setup, answerAfterMs: null, mailboxAfterMs: endMs - alertMs };
      return {
        state: 'ready',
        ...setup,
        answerAfterMs: (answerMs ?? endMs) - from,
        pressAfterMs: answerMs === undefined ? 0 : endMs - answerMs,
      };
    case 'refused':
      return {
        state: 'ready',
        ...setup,
        answerAfterMs: (answerMs ?? endMs) - from,
        refuseAfterMs: endMs - (answerMs ?? endMs),
      };
    case 'not-confirmed':
      if (alertMs === null) return { state: 'off', offAnswerMs: (answerMs ?? endMs) - dialledMs };
      return { state: 'ready', ...setup, answerAfterMs: (answerMs ?? from) - from, pressAfterMs: null };
    case 'before-guard':
      // A phone that is off rings nowhere: its carrier answers in its place.
      if (alertMs === null) return { state: 'off', offAnswerMs: endMs - dialledMs };
      return { state: 'ready', ...setup, answerAfterMs: (answerMs ?? endMs) - from };
    case 'rejected':
      return { state: 'ready', ...setup, answerAfterMs: null, rejectAfterMs: endMs - from };
    case 'busy':
      return { state: 'busy' };
    case 'do-not-disturb':
      return { state: 'do-not-disturb' };
    case 'unregistered':
      return { state: 'unregistered' };
    case 'unreachable':
      return { state: 'off' };
    case 'no-answer':
    case 'answered-elsewhere':
    case 'caller-gone':
      // One that was answered was still asking for a key.
      return answerMs === undefined
        ? { state: 'ready', ...setup, answerAfterMs: null }
        : { state: 'ready', ...setup, answerAfterMs: answerMs - from, pressAfterMs: null };
    case 'given-up':
      return { state: 'ready', setupMs: endMs - dialledMs + 1, answerAfterMs: null };
    case 'bad-number':
    case 'not-permitted':
    case 'no-route':
    case 'no-channel':
      return {};
  }
}

/**
 * How each phone behaved, by what the legs say.
 * @param voicemailAfter what is known of a phone’s carrier voicemail, ms after it begins to ring; null: it has none. One
 *   that did not take the call for as long as the phone rang takes it no sooner.
 */
export function behaviours(
  record: CallRecord,
  voicemailAfter: (leg: RecordedLeg) => Ms | null = () => null,
): Readonly<Record<string, EndpointBehaviour>> {
  const endpoints: Record<string, EndpointBehaviour> = {};
  for (const leg of record.legs) {
    if (endpoints[leg.endpoint]) continue;
    const behaviour = behaviourOf(record, leg);
    const isOpen =
      behaviour.state === 'ready' && behaviour.mailboxAfterMs === undefined && leg.alertMs !== null;
    const after = isOpen ? voicemailAfter(leg) : null;
    const rangMs = Math.max(...record.legs.map((each) => rangFor(each, leg.endpoint)));
    endpoints[leg.endpoint] =
      isOpen && leg.end !== 'before-guard'
        ? { ...behaviour, mailboxAfterMs: after === null ? null : Math.max(after, rangMs + 1) }
        : behaviour;
  }
  return endpoints;
}
/** How long a phone rang in a leg; what is answered before a guard was answered by whatever did it. */
const rangFor = ({ endpoint, alertMs, answerMs, endMs, end }: RecordedLeg, of: string): Ms =>
  endpoint !== of || alertMs === null || end === 'before-guard' ? 0 : (answerMs ?? endMs) - alertMs;

/** How everything behaved in a call that went: as it was written down, otherwise by what its legs say. */
export function worldOf(index: EstateIndex, record: CallRecord): World {
  if (record.world) return record.world;
  const trunkUse: Record<string, number> = {};
  for (const leg of record.legs) {
    const full = index.estate.trunks.find(({ id }) => leg.end === 'no-channel' && id === leg.trunk);
    if (full) trunkUse[full.id] = full.channels;
  }
  return {
    endpoints: behaviours(record, ({ endpoint }) => endpointAt(index, endpoint).times.mailboxAfterMs),
    ...(Object.keys(trunkUse).length > 0 ? { trunkUse } : {}),
  };
}

/** The call of a record, as the engine takes it. */
export function callOf(index: EstateIndex, record: CallRecord): Call {
  const gone = record.legs.filter(({ end }) => end === 'caller-gone').map(({ endMs }) => endMs);
  const patience = record.outcome === 'abandoned' ? record.atMs : gone.length > 0 ? Math.max(...gone) : null;
  return {
    from: record.from,
    to: record.to,
    at: isoIn(record.startMs, index.estate.timeZone),
    ...(record.arrival ? { arrival: record.arrival } : {}),
    patienceMs: patience,
    world: worldOf(index, record),
  };
}

/** How a record ended, as the engine tells it; whose mailbox it was is taken to be of whoever was called. */
export function outcomeOf(index: EstateIndex, record: CallRecord): Outcome {
  const { outcome: kind, atMs, answeredBy } = record;
  const called = index.destinations.get(record.to);
  const person = called?.kind === 'line' ? called.person.id : '';
  switch (kind) {
    case 'answered':
    case 'carrier-voicemail': {
      const endpoint = answeredBy ?? record.legs.find(({ end }) => end === 'connected')?.endpoint ?? '';
      const owner = index.endpoints.get(endpoint)?.owner?.id;
      return { kind, atMs, endpoint, ...(owner === undefined ? {} : { person: owner }) };
    }
    case 'mailbox':
      return { kind, atMs, person };
    case 'played':
      return { kind, atMs, seat: answeredBy ?? '' };
    case 'hung-up':
      return { kind, atMs, message: '' };
    case 'failed':
      return { kind, atMs, reason: 'it failed' };
    case 'loop':
    case 'abandoned':
    case 'unanswered':
      return { kind, atMs };
  }
}

export interface Replayed {
  readonly id: string;
  readonly outcome: Outcome;
  /** Under the other estate. */
  readonly after?: Outcome;
}

/** What the engine makes of calls that went, under an estate, and under another. */
export const replay = (
  records: readonly CallRecord[],
  before: EstateIndex,
  after?: EstateIndex,
): readonly Replayed[] =>
  records.map((record) => ({
    id: record.id,
    outcome: runCall(before, callOf(before, record)).outcome,
    ...(after ? { after: runCall(after, callOf(after, record)).outcome } : {}),
  }));
