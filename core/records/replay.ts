import type { EstateIndex, Call, EndpointBehaviour, Outcome, World } from '../calls/engine';
import { runCall } from '../calls/engine';
import { isoIn } from '../calls/time';
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
      return { state: 'ready', ...setup, answerAfterMs: null };
    case 'given-up':
      return { state: 'ready', setupMs: endMs - dialledMs + 1, answerAfterMs: null };
    case 'bad-number':
    case 'not-permitted':
    case 'no-route':
    case 'no-channel':
      return {};
  }
}

/** How everything behaved in a call that went: as it was written down, otherwise by what its legs say. */
export function worldOf(index: EstateIndex, record: CallRecord): World {
  if (record.world) return record.world;
  const endpoints: Record<string, EndpointBehaviour> = {};
  const trunkUse: Record<string, number> = {};
  for (const leg of record.legs) {
    endpoints[leg.endpoint] ??= behaviourOf(record, leg);
    const full = index.estate.trunks.find(({ id }) => leg.end === 'no-channel' && id === leg.trunk);
    if (full) trunkUse[full.id] = full.channels;
  }
  return { endpoints, ...(Object.keys(trunkUse).length > 0 ? { trunkUse } : {}) };
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
