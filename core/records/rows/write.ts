import { DateTime } from 'luxon';
import { zoneNamed } from '../../zones';
import type { CallRecord, RecordedLeg } from '../types';

/** One row for each call, or one for each phone that was dialled. */
export type CallRowKind = 'call' | 'phone';

const OF_CALL = [
  'id',
  'start',
  'from',
  'to',
  'outcome',
  'answered by',
  'wait',
  'talk',
  'trunk in',
  'system',
] as const;
const OF_PHONE = ['phone', 'dialled at', 'rang for', 'phone result', 'trunk out'] as const;

/** The headings of a file of calls, as an import reads them back. */
export const callHeadings = (kind: CallRowKind): readonly string[] =>
  kind === 'call' ? OF_CALL : [...OF_CALL, ...OF_PHONE];

/** Seconds to the millisecond, without noughts at the end. */
const seconds = (ms: number): string => String(Math.round(ms) / 1000);

function ofLeg(leg: RecordedLeg | undefined, startMs: number, at: (ms: number) => string): readonly string[] {
  if (!leg) return OF_PHONE.map(() => '');
  return [
    leg.endpoint,
    at(startMs + leg.dialledMs),
    leg.alertMs === null ? '' : seconds(leg.endMs - leg.alertMs),
    leg.end,
    leg.trunk ?? '',
  ];
}

/**
 * A call as rows of a table: times with the offset of the zone, lengths in seconds.
 * @param zone IANA name
 */
export function callRows(call: CallRecord, kind: CallRowKind, zone: string): readonly (readonly string[])[] {
  const at = (ms: number) => DateTime.fromMillis(ms, { zone: zoneNamed(zone) }).toISO() ?? '';
  const own = [
    call.id,
    at(call.startMs),
    call.from ?? '',
    call.to,
    call.outcome,
    call.answeredBy ?? '',
    seconds(call.atMs),
    seconds(call.talkMs),
    call.trunkIn ?? '',
    call.system ?? '',
  ];
  if (kind === 'call') return [own];
  const legs: readonly (RecordedLeg | undefined)[] = call.legs.length === 0 ? [undefined] : call.legs;
  return legs.map((leg) => [...own, ...ofLeg(leg, call.startMs, at)]);
}
