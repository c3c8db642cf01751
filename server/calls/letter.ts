import { DateTime } from 'luxon';
import type { RowDataPacket } from 'mysql2/promise';
import { ESTATE_KINDS } from '../../api/record';
import type { LetterPage, LetterPart } from '../../api/records';
import { LOST_OUTCOMES } from '../../core/records';
import { wilson } from '../../core/statistics';
import { zoneNamed } from '../../core/zones';
import { newPdf, PDF_FONTS, PDF_SIZE, refusal } from '../base';
import { calledAt } from '../collected';
import type { Services } from '../http';
import { readRunning } from '../restarts';
import { nightRows } from './night';

type Line = LetterPart['lines'][number];
const line = (says: string, href: string | null = null): Line => ({ says, href });
const MOST_LINES = 8;
const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** The letter of a week. @param week any day of it, "YYYY-MM-DD"; left out: the last week that is over */
export async function letterOf(services: Services, week?: string): Promise<LetterPage> {
  const { db, store, now } = services;
  const { estate, index } = await store.current();
  const zone = zoneNamed(estate.timeZone);
  const today = DateTime.fromMillis(now().getTime(), { zone });
  const day = week === undefined ? today.minus({ weeks: 1 }) : DateTime.fromISO(week, { zone });
  if (!day.isValid || (week !== undefined && !/^\d{4}-\d{2}-\d{2}$/.test(week)))
    throw refusal(400, 'A week is named by one of its days, such as 2026-11-24.');
  const from = day.startOf('week');
  const to = from.plus({ weeks: 1 });
  const count = async (begin: DateTime, end: DateTime) => {
    const [rows] = await db.query<RowDataPacket[]>(
      `SELECT to_number, outcome, COUNT(*) AS n FROM call_record
       WHERE started_at >= ? AND started_at < ? GROUP BY to_number, outcome`,
      [begin.toJSDate(), end.toJSDate()],
    );
    const lost = rows.filter(({ outcome }) => LOST_OUTCOMES.some((kind) => kind === outcome));
    const sum = (some: readonly RowDataPacket[]) => some.reduce((total, { n }) => total + Number(n), 0);
    return { rows, lost, calls: sum(rows), lostCalls: sum(lost) };
  };
  const [own, before] = [await count(from, to), await count(from.minus({ weeks: 1 }), from)];
  const parts: LetterPart[] = [
    { title: 'Calls', lines: callLines(own, before) },
    { title: 'Lost most', lines: lostLines(own.lost, index) },
    { title: 'Not as planned', lines: await nightLines(services, from, to) },
    { title: 'What was changed', lines: await changeLines(services, from, to) },
    { title: 'What is owed', lines: await owedLines(services) },
  ];
  return {
    organisation: estate.name,
    from: from.toISODate() ?? '',
    to: to.minus({ days: 1 }).toISODate() ?? '',
    isWhole: to.toMillis() <= now().getTime(),
    parts,
  };
}

interface Counted {
  readonly calls: number;
  readonly lostCalls: number;
}
function callLines(own: Counted, before: Counted): readonly Line[] {
  if (own.calls === 0) return [line('No call is kept of this week.')];
  const share = own.lostCalls / own.calls;
  const was = before.calls > 0 ? before.lostCalls / before.calls : null;
  const [now, then] = [wilson(own.lostCalls, own.calls), wilson(before.lostCalls, before.calls)];
  // Told apart from the week before only where the two intervals do not meet.
  const isApart = now && then && (now.low > then.high || now.high < then.low);
  return [
    line(
      `${own.calls.toLocaleString('en')} calls, ${before.calls.toLocaleString('en')} in the week before.`,
      '/calls',
    ),
    line(
      `${own.lostCalls} were lost: ${percent(share)}${
        was === null
          ? '.'
          : isApart
            ? `, ${share > was ? 'more' : 'fewer'} than the ${percent(was)} of the week before.`
            : `, much as the ${percent(was)} of the week before.`
      }`,
      '/calls/lost',
    ),
  ];
}

function lostLines(lost: readonly RowDataPacket[], index: Parameters<typeof calledAt>[0]): readonly Line[] {
  const by = new Map<string, number>();
  for (const { to_number, n } of lost)
    by.set(String(to_number), (by.get(String(to_number)) ?? 0) + Number(n));
  const most = [...by].sort((a, b) => b[1] - a[1]).slice(0, MOST_LINES);
  if (most.length === 0) return [line('No call was lost.')];
  return most.map(([to, n]) => {
    const called = calledAt(index, to);
    const href = called?.person
      ? `/people/${encodeURIComponent(called.person)}`
      : `/numbers/${encodeURIComponent(to)}`;
    return line(`${called?.name ?? to}: ${n} ${n === 1 ? 'call' : 'calls'}`, href);
  });
}

async function nightLines({ db }: Services, from: DateTime, to: DateTime): Promise<readonly Line[]> {
  const nights = (await nightRows(db)).filter(
    ({ day }) => day >= (from.toISODate() ?? '') && day < (to.toISODate() ?? ''),
  );
  if (nights.length === 0) return [line('No day of this week has been looked through yet.')];
  const odd = nights.reduce((sum, { otherwise }) => sum + otherwise, 0);
  if (odd === 0) return [line(`All calls of ${nights.length} days went as planned.`, '/calls/nights')];
  const reasons = new Map<string, number>();
  for (const night of nights)
    for (const { says, calls } of night.reasons) reasons.set(says, (reasons.get(says) ?? 0) + calls);
  return [
    line(`${odd} calls did not go as planned.`, '/calls/nights'),
    ...[...reasons]
      .sort((a, b) => b[1] - a[1])
      .slice(0, MOST_LINES)
      .map(([says, n]) =>
        line(`${says.charAt(0).toUpperCase()}${says.slice(1)}: ${n} ${n === 1 ? 'call' : 'calls'}`),
      ),
  ];
}

/** Changes of the estate that are told: not what people do by the day. */
const TOLD_KINDS = ESTATE_KINDS.filter(
  (kind) => !['switched', 'covered', 'order-set', 'own-change'].includes(kind),
);
async function changeLines({ db }: Services, from: DateTime, to: DateTime): Promise<readonly Line[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT who, subject, COUNT(*) AS n, MAX(why) AS why FROM record_entry
     WHERE at >= ? AND at < ? AND kind IN (?) GROUP BY who, subject ORDER BY MAX(at) DESC LIMIT ?`,
    [from.toJSDate(), to.toJSDate(), TOLD_KINDS, MOST_LINES + 1],
  );
  if (rows.length === 0) return [line('Nothing was changed.')];
  const told = rows
    .slice(0, MOST_LINES)
    .map(({ who, subject, n, why }) =>
      line(
        `${String(subject)}: ${Number(n) === 1 ? 'changed' : `changed ${Number(n)} times`} by ${String(who)}${why ? ` (${String(why)})` : ''}`,
        '/record',
      ),
    );
  return rows.length > MOST_LINES ? [...told, line('And more: see the record.', '/record')] : told;
}

async function owedLines({ db, store }: Services): Promise<readonly Line[]> {
  const { index } = await store.current();
  const owed = await readRunning(db);
  const [slates] = await db.query<RowDataPacket[]>(
    "SELECT id, name, state FROM slate WHERE state IN ('timed', 'held') ORDER BY id LIMIT ?",
    [MOST_LINES],
  );
  const [[asked]] = await db.query<RowDataPacket[]>(
    "SELECT COUNT(*) AS n FROM own_request WHERE state = 'open'",
  );
  const requests = Number(asked?.n ?? 0);
  const phones = owed.map(({ endpoint }) => {
    const known = index.endpoints.get(endpoint);
    return known?.owner ? `${known.owner.name} (${known.endpoint.label})` : endpoint;
  });
  const lines = [
    ...(phones.length > 0
      ? [
          line(
            `${phones.length} ${phones.length === 1 ? 'phone waits' : 'phones wait'} for a restart: ${phones.slice(0, 5).join(', ')}${phones.length > 5 ? ' and more' : ''}`,
            '/today',
          ),
        ]
      : []),
    ...(requests > 0
      ? [
          line(
            `${requests} ${requests === 1 ? 'person waits' : 'people wait'} for an answer to what they asked for.`,
            '/today',
          ),
        ]
      : []),
    ...slates.map(({ id, name, state }) =>
      line(
        `The slate “${String(name)}” ${state === 'held' ? 'was held back' : 'goes live at its time'}.`,
        `/slates/${Number(id)}`,
      ),
    ),
  ];
  return lines.length > 0 ? lines : [line('Nothing is owed.')];
}

/** The letter to print. */
export async function letterAsPdf(letter: LetterPage): Promise<Buffer> {
  const title = `Calls and changes, ${letter.from} to ${letter.to}`;
  const { page, text, end } = await newPdf(title);
  text(title, PDF_SIZE.title, PDF_FONTS.strong);
  text(letter.organisation);
  if (!letter.isWhole) text('The week is not over yet.');
  for (const part of letter.parts) {
    page.moveDown();
    text(part.title, PDF_SIZE.head, PDF_FONTS.strong);
    for (const { says } of part.lines) {
      page.moveDown(0.2);
      text(says);
    }
  }
  return end();
}
