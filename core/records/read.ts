import { ARRIVALS, type Fault } from '../estate';
import { callFaults, LEG_ENDS, OUTCOME_KINDS } from '../calls/engine';
import { instantOf } from '../calls/time';
import type { CallRecord, RecordedLeg } from './types';

/** So many records are read of one file. */
export const MOST_RECORDS = 2_000_000;
const MOST_LEGS = 500;
const MOST_FAULTS = 50;
const DAY_MS = 86_400_000;
/** Words of before, read for ever. */
const OLDER_OUTCOMES: Readonly<Record<string, string>> = { 'foreign-mailbox': 'carrier-voicemail' };

type Loose = Record<string, unknown>;
const isObject = (value: unknown): value is Loose =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const isText = (value: unknown, most = 200): value is string =>
  typeof value === 'string' && value.length > 0 && value.length <= most;
const isMs = (value: unknown): value is number =>
  Number.isInteger(value) && (value as number) >= 0 && (value as number) <= DAY_MS;

const FIELDS = new Set([
  'id',
  'startAt',
  'from',
  'to',
  'arrival',
  'outcome',
  'atMs',
  'answeredBy',
  'talkMs',
  'legs',
  'source',
  'system',
  'trunkIn',
  'world',
]);
const LEG_FIELDS = new Set([
  'endpoint',
  'number',
  'dialledMs',
  'alertMs',
  'answerMs',
  'endMs',
  'end',
  'trunk',
]);
const includes = (words: readonly string[], value: unknown): boolean =>
  typeof value === 'string' && words.includes(value);

/** ms since 1970 of a number of ms, or of a moment as ISO 8601 with its offset. */
const momentOf = (value: unknown): number | null => {
  if (Number.isInteger(value)) return Math.abs(value as number) < 8.64e15 ? (value as number) : null;
  return isText(value, 40) ? instantOf(value) : null;
};

function readLeg(
  value: unknown,
  path: string,
  say: (path: string, message: string) => void,
): RecordedLeg | null {
  if (!isObject(value)) return (say(path, 'must be an object'), null);
  for (const key of Object.keys(value))
    if (!LEG_FIELDS.has(key)) say(`${path}.${key.slice(0, 80)}`, 'is not a known field here');
  const { endpoint = value.number, dialledMs, alertMs = null, answerMs, endMs, end, trunk } = value;
  if (!isText(endpoint)) say(`${path}.endpoint`, 'must be an endpoint’s id or a number');
  if (!isMs(dialledMs)) say(`${path}.dialledMs`, 'must be a whole number of ms');
  if (alertMs !== null && !isMs(alertMs)) say(`${path}.alertMs`, 'must be a whole number of ms, or null');
  if (answerMs !== undefined && !isMs(answerMs)) say(`${path}.answerMs`, 'must be a whole number of ms');
  if (!isMs(endMs)) say(`${path}.endMs`, 'must be a whole number of ms');
  if (!includes(LEG_ENDS, end)) say(`${path}.end`, `must be one of ${LEG_ENDS.join(', ')}`);
  if (trunk !== undefined && !isText(trunk)) say(`${path}.trunk`, 'must be a trunk’s id');
  const times = [dialledMs, alertMs, answerMs, endMs].filter(isMs);
  if (times.some((ms, at) => at > 0 && ms < (times[at - 1] ?? 0))) say(path, 'ends before it begins');
  return {
    ...(value as unknown as RecordedLeg),
    endpoint: endpoint as string,
    alertMs: alertMs as number | null,
  };
}

function readOne(
  value: unknown,
  path: string,
  say: (path: string, message: string) => void,
): CallRecord | null {
  if (!isObject(value)) return (say(path, 'must be an object'), null);
  for (const key of Object.keys(value))
    if (!FIELDS.has(key)) say(`${path}.${key.slice(0, 80)}`, 'is not a known field here');
  const {
    id,
    startAt,
    from = null,
    to,
    arrival,
    atMs,
    answeredBy,
    talkMs = 0,
    legs = [],
    source,
    system,
    trunkIn,
    world,
  } = value;
  const outcome = isText(value.outcome) ? (OLDER_OUTCOMES[value.outcome] ?? value.outcome) : value.outcome;
  const startMs = momentOf(startAt);
  if (!isText(id)) say(`${path}.id`, 'must be text');
  if (startMs === null)
    say(
      `${path}.startAt`,
      'must be ms since 1970, or a time with its offset such as 2026-11-25T22:20:00.000Z',
    );
  if (from !== null && !(isText(from, 40) && /^\+?\d+$/.test(from)))
    say(`${path}.from`, 'must be an E.164 number, an extension, or null');
  if (!isText(to, 40)) say(`${path}.to`, 'must be what was dialled');
  if (arrival !== undefined && !includes(ARRIVALS, arrival))
    say(`${path}.arrival`, `must be one of ${ARRIVALS.join(', ')}`);
  if (!includes(OUTCOME_KINDS, outcome)) say(`${path}.outcome`, `must be one of ${OUTCOME_KINDS.join(', ')}`);
  if (!isMs(atMs)) say(`${path}.atMs`, 'must be a whole number of ms');
  if (!isMs(talkMs)) say(`${path}.talkMs`, 'must be a whole number of ms');
  for (const [key, text] of Object.entries({ answeredBy, system, trunkIn }))
    if (text !== undefined && text !== null && !isText(text)) say(`${path}.${key}`, 'must be text');
  if (source !== undefined && !includes(['live', 'import'], source))
    say(`${path}.source`, 'must be live or import');
  if (!Array.isArray(legs) || legs.length > MOST_LEGS)
    return (say(`${path}.legs`, `must be a list of ${MOST_LEGS} or fewer`), null);
  const read = legs.map((leg, at) => readLeg(leg, `${path}.legs[${at}]`, say));
  if (world !== undefined && startMs !== null)
    for (const fault of callFaults({ from: null, to: '1', at: new Date(startMs).toISOString(), world }, path))
      say(fault.path, fault.message);
  const { startAt: _startAt, ...rest } = value;
  return {
    ...(rest as unknown as CallRecord),
    startMs: startMs ?? 0,
    from: from as string | null,
    outcome: outcome as CallRecord['outcome'],
    talkMs: talkMs as number,
    legs: read.flatMap((leg) => (leg ? [leg] : [])),
  };
}

export type ReadRecords =
  | { readonly ok: true; readonly records: readonly CallRecord[] }
  | { readonly ok: false; readonly faults: readonly Fault[] };

/** Reads call records; faults each with its path, the first fifty. */
export function readRecords(values: readonly unknown[]): ReadRecords {
  if (values.length > MOST_RECORDS)
    return { ok: false, faults: [{ path: '', message: `holds more than ${MOST_RECORDS} records` }] };
  const faults: Fault[] = [];
  const records: CallRecord[] = [];
  const ids = new Set<string>();
  for (const [at, value] of values.entries()) {
    const record = readOne(value, `[${at}]`, (path, message) => faults.push({ path, message }));
    if (record && ids.has(record.id))
      faults.push({ path: `[${at}].id`, message: `“${record.id}” stands twice`, code: 'twice' });
    if (record) {
      ids.add(record.id);
      records.push(record);
    }
    if (faults.length >= MOST_FAULTS) break;
  }
  return faults.length > 0 ? { ok: false, faults: faults.slice(0, MOST_FAULTS) } : { ok: true, records };
}

/** The values of a file of call records: a JSON array, or JSON lines. Errors: the line that is no JSON. */
export function recordValues(
  text: string,
):
  | { readonly ok: true; readonly values: readonly unknown[] }
  | { readonly ok: false; readonly fault: Fault } {
  const body = text.replace(/^\uFEFF/, '').trim();
  const parse = (part: string): unknown => JSON.parse(part);
  try {
    if (body.startsWith('[')) return { ok: true, values: parse(body) as readonly unknown[] };
  } catch (error) {
    return { ok: false, fault: { path: '', message: `is not JSON: ${(error as Error).message}` } };
  }
  const values: unknown[] = [];
  for (const [at, line] of body.split('\n').entries()) {
    if (line.trim() === '') continue;
    try {
      values.push(parse(line));
    } catch (error) {
      return {
        ok: false,
        fault: { path: `line ${at + 1}`, message: `is not JSON: ${(error as Error).message}` },
      };
    }
  }
  return { ok: true, values };
}
