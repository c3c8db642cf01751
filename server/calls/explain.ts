import type { RowDataPacket } from 'mysql2/promise';
import type { CallExplained, CallsAround } from '../../api/calls';
import { hotDeskOf } from '../../core/desks';
import { endpointName, type Trace } from '../../core/calls/engine';
import { tryCall } from '../../core/calls/views';
import type { Person } from '../../core/estate';
import {
  explainCall,
  recordStrip,
  sayBeside,
  whyNotRung,
  type CallRecord,
  type Explained,
} from '../../core/records';
import { refusal } from '../base';
import { ladderLength, readCallKey, recordIn, rowOf } from '../collected';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { openPast, type Past, type Version } from './then';
import { sayMoment, sayTime } from './words';

const ROW = 'SELECT started_at, id, went, import_id, body FROM call_record';

/** One call by its key. @throws a refusal where there is none */
export async function explainOne(services: Services, key: string): Promise<CallExplained> {
  const { db, store } = services;
  const asked = readCallKey(key);
  const [[row]] = asked
    ? await db.query<RowDataPacket[]>(`${ROW} WHERE started_at = ? AND id = ?`, [asked.startedAt, asked.id])
    : [[]];
  const live = await store.current();
  const told = row && (await explainRow(live, await openPast(db, live.estate.timeZone), row));
  if (!told) throw refusal(404, 'This call is not kept any more, or never was.');
  return { ...told, messages: await ladderLength(db, key) };
}

const AROUND_MS = 45 * 60_000;
const MOST_AROUND = 20;

/** Calls to a person around a moment, those nearest to it. */
export async function callsAround(services: Services, person: Person, ms: number): Promise<CallsAround> {
  const { db, store } = services;
  const live = await store.current();
  const past = await openPast(db, live.estate.timeZone);
  // They may have had other numbers then.
  const was = (await past.at(ms))?.index.people.get(person.id) ?? person;
  const groups = live.estate.groups.filter(({ members }) =>
    members.some((member) => 'person' in member && member.person === person.id),
  );
  const numbers = [
    ...new Set([
      ...[was, person].flatMap(({ lines }) => lines.flatMap((line) => [line.extension, ...line.numbers])),
      ...groups.flatMap(({ extension, numbers: own = [] }) => [extension, ...own]),
    ]),
  ];
  const [rows] = await db.query<RowDataPacket[]>(
    `${ROW} WHERE to_number IN (?) AND started_at >= ? AND started_at < ?
     ORDER BY ABS(TIMESTAMPDIFF(MICROSECOND, started_at, ?)) LIMIT ${MOST_AROUND + 1}`,
    [numbers, new Date(ms - AROUND_MS), new Date(ms + AROUND_MS), new Date(ms)],
  );
  const calls: CallExplained[] = [];
  for (const row of rows.slice(0, MOST_AROUND)) {
    const told = await explainRow(live, past, row, person.id);
    if (told) calls.push(told);
  }
  return { calls, isMore: rows.length > MOST_AROUND };
}

/** @param about whose phones are asked about; left out: those of whoever was called */
async function explainRow(
  live: LiveEstate,
  past: Past,
  row: RowDataPacket,
  about?: string,
): Promise<CallExplained | null> {
  const record = recordIn(row.body);
  const call = rowOf(live, row);
  const version = record && (await past.at(record.startMs));
  if (!record || !call || !version) return null;
  const explained = await explainRecord(past, record);
  if (!explained) return null;
  const { index } = version;
  const called = index.destinations.get(record.to);
  const person = about ?? (called?.kind === 'line' ? called.person.id : null);
  const owner = person === null ? undefined : index.people.get(person);
  return {
    call,
    went: explained.went,
    says: explained.says,
    reason: explained.reason?.says ?? null,
    then: await sayThen(past, version, explained.planned, record),
    legs: explained.legs.map((leg) => ({
      how: leg.how,
      says: sayBeside(leg, endpointName(index, leg.endpoint)),
    })),
    silent:
      explained.went === 'planned'
        ? (owner?.endpoints ?? []).flatMap(({ id }) => {
            const why = whyNotRung(index, explained, id);
            return why === null ? [] : [{ endpoint: id, name: endpointName(index, id), why }];
          })
        : [],
    wentStrip: explained.isSameOutcome
      ? recordStrip(index, record, { ...explained.planned.outcome, atMs: record.atMs })
      : recordStrip(index, record),
    plannedStrip: tryCall(index, explained.call, '').strip,
    person,
  };
}

/** How a call should have gone: at first by what is needed, then, if it went otherwise, by all that could explain it. */
export async function explainRecord(past: Past, record: CallRecord): Promise<Explained | null> {
  const known = await past.knownAt(record.startMs, false);
  if (!known) return null;
  const explained = explainCall(known, record);
  if (explained.went !== 'otherwise') return explained;
  const whole = await past.knownAt(record.startMs, true);
  return whole ? explainCall(whole, record) : explained;
}

/** Where those who were called were signed on, of those who sit at shared desks. */
async function sayDesks(
  past: Past,
  { index, estate }: Version,
  path: Trace['path'],
  ms: number,
): Promise<readonly string[]> {
  const desks = (await past.knownAt(ms, false))?.desks;
  if (!desks) return [];
  return path.flatMap((step) => {
    const person = 'person' in step ? index.people.get(step.person) : undefined;
    const phone = person && hotDeskOf(person);
    if (!person || !phone) return [];
    const at = desks.get(phone);
    if (!at) return [`${person.name} was signed on at no shared desk.`];
    const name = estate.desks?.find(({ id }) => id === at.desk)?.name ?? at.desk;
    const until = at.untilMs === null ? '' : ` to ${sayTime(at.untilMs, estate.timeZone)}`;
    return [`${person.name} was signed on at ${name} from ${sayTime(at.sinceMs, estate.timeZone)}${until}.`];
  });
}

const MOST_AHEAD = 8;
/** What a call's moment is told with: until when a status lasted that decided, and since when the plan was so. */
async function sayThen(
  past: Past,
  version: Version,
  { path }: Trace,
  { startMs }: CallRecord,
): Promise<readonly string[]> {
  const { index, estate } = version;
  const says: string[] = [...(await sayDesks(past, version, path, startMs))];
  for (const step of path) {
    if (!('person' in step)) continue;
    const person = index.people.get(step.person);
    const rule = person?.plan.rules.find(({ id }) => id === step.rule);
    if (!person || !rule?.when.status) continue;
    const name = index.statuses.get(person.status) ?? person.status;
    let next: Version | null = version;
    for (let ahead = 0; next !== null && next.toMs !== null && ahead < MOST_AHEAD; ahead += 1) {
      const until: number = next.toMs;
      next = await past.at(until);
      const later = next?.index.people.get(person.id);
      if (later?.status === person.status) continue;
      const isSameDay = until - startMs < 20 * 3_600_000;
      const when = (isSameDay ? sayTime : sayMoment)(until, estate.timeZone);
      says.push(
        later
          ? `${person.name} was “${name}” until ${when}, then “${index.statuses.get(later.status) ?? later.status}”.`
          : `${person.name} was there until ${when}.`,
      );
      break;
    }
  }
  if (version.fromMs !== null && version.by !== '' && startMs - version.fromMs < 7 * 86_400_000)
    says.push(`Nothing had been changed since ${sayMoment(version.fromMs, estate.timeZone)}.`);
  return says;
}
