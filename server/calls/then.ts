import { ESTATE_KINDS } from '../../api/record';
import type { RowDataPacket } from 'mysql2/promise';
import { shouldRun, type Behind } from '../../core/changes/restarts';
import type { Estate, SeatPhone } from '../../core/estate';
import { compileEstate, type EstateIndex } from '../../core/calls/engine';
import { hotDeskOf } from '../../core/desks';
import type { DeskThen, Then } from '../../core/records';
import { inSnapshot, type Db, type Queryable } from '../db';
import { asOf, estateOf, loadEstate } from '../estate';
import { sayMoment } from './words';

/** The estate as it stood from one change to the next. */
export interface Version {
  readonly index: EstateIndex;
  readonly estate: Estate;
  /** ms since 1970; null: since ever, until now. */
  readonly fromMs: number | null;
  readonly toMs: number | null;
  /** The change that made it, in a few words. */
  readonly by: string;
}

/** What was so at moments gone by: the estate, registrations, restarts that were owed, seats. */
export interface Past {
  readonly at: (ms: number) => Promise<Version | null>;
  /** What is needed to say how a call should have gone. @param isWhole with what could explain a difference */
  readonly knownAt: (ms: number, isWhole: boolean) => Promise<Then | null>;
  /** Whether it is known of phones that they were registered. */
  readonly registered: (ms: number) => Promise<ReadonlyMap<string, Registered>>;
}
interface Registered {
  readonly isThere: boolean;
  readonly isKnown: boolean;
  readonly sinceMs: number;
}

/** So many versions are held at a time. */
const MOST_HELD = 12;
/** A change that lies no further away can be what explains a call. */
const NEAR_MS = 4 * 86_400_000;
const MOST_OTHERS = 3;

interface Change {
  readonly atMs: number;
  readonly says: string;
}

/** Changes of the estate from the record, the first first. */
async function changesOf(db: Queryable, zone: string): Promise<readonly Change[]> {
  const [rows] = await db.query<RowDataPacket[]>(
    `SELECT at, GROUP_CONCAT(DISTINCT subject ORDER BY id SEPARATOR ', ') AS subject, MIN(who) AS who
     FROM record_entry WHERE kind IN (?) GROUP BY at ORDER BY at`,
    [ESTATE_KINDS],
  );
  return rows.map((row) => {
    const atMs = (row.at as Date).getTime();
    return {
      atMs,
      says: `the change of ${sayMoment(atMs, zone)} by ${String(row.who)} (${String(row.subject).slice(0, 80)})`,
    };
  });
}
/** Looks at moments gone by; each version of the estate is read once. */
export async function openPast(db: Db, zone: string): Promise<Past> {
  const changes = await changesOf(db, zone);
  const held = new Map<number, Promise<Version | null>>();
  /** The nth version: from the nth change to the next one. */
  const version = (nth: number): Promise<Version | null> => {
    const known = held.get(nth);
    if (known) return known;
    const [change, next] = [changes[nth], changes[nth + 1]];
    // A change bears one instant, of which the record keeps whole ms: just after it everything is there.
    const read = inSnapshot(db, (tx) => loadEstate(tx, change ? asOf(change.atMs + 1) : '')).then(
      (stored) => {
        if (!stored) return null;
        const estate = estateOf(stored);
        return {
          estate,
          index: compileEstate(estate),
          fromMs: change?.atMs ?? null,
          toMs: next?.atMs ?? null,
          by: change?.says ?? '',
        };
      },
    );
    held.set(nth, read);
    if (held.size > MOST_HELD) held.delete([...held.keys()][0]!);
    return read;
  };
  // Before the first change that is known, the first estate there is counts.
  const nthAt = (ms: number) =>
    Math.max(
      0,
      changes.findLastIndex(({ atMs }) => atMs <= ms),
    );
  const at = (ms: number) => version(nthAt(ms));

  const windows = new Map<number, Promise<Window>>();
  /** What is needed of some hours is read once. */
  function windowOf(ms: number): Promise<Window> {
    const nth = Math.floor(ms / WINDOW_MS);
    const known = windows.get(nth);
    if (known) return known;
    const read = readWindow(db, nth * WINDOW_MS, (nth + 1) * WINDOW_MS);
    windows.set(nth, read);
    if (windows.size > MOST_WINDOWS) windows.delete([...windows.keys()][0]!);
    return read;
  }
  async function registered(ms: number): Promise<ReadonlyMap<string, Registered>> {
    const { before, changes: during } = await windowOf(ms);
    const known = new Map(before);
    for (const [endpoint, change] of during) {
      if (change.sinceMs > ms) break;
      known.set(endpoint, change);
    }
    // A phone system that ended knew of no phone any more: that says nothing of the phone.
    for (const [endpoint, { isKnown }] of known) if (!isKnown) known.delete(endpoint);
    return known;
  }

  /** Phones that had registered before they were changed, and not since. */
  async function behindAt(ms: number, known: ReadonlyMap<string, Registered>): Promise<readonly Behind[]> {
    const now = await at(ms);
    if (!now) return [];
    const behind: Behind[] = [];
    for (const [endpoint, { isThere, sinceMs }] of known) {
      if (!isThere || nthAt(sinceMs) === nthAt(ms)) continue;
      const person = now.index.endpoints.get(endpoint)?.owner;
      const phone = person?.endpoints.find(({ id }) => id === endpoint);
      if (!person || !phone) continue;
      const was = (await at(sinceMs))?.index.endpoints.get(endpoint);
      const old = was?.owner?.endpoints.find(({ id }) => id === endpoint);
      const running = was?.owner && old ? shouldRun(was.owner, old) : null;
      if (JSON.stringify(running) !== JSON.stringify(shouldRun(person, phone)))
        behind.push({ endpoint, running });
    }
    return behind;
  }

  async function knownAt(ms: number, isWhole: boolean): Promise<Then | null> {
    const own = await at(ms);
    if (!own) return null;
    const known = await registered(ms);
    const base: Then = {
      index: own.index,
      registered: new Map([...known].map(([id, { isThere }]) => [id, isThere])),
      ...seatsThen(await windowOf(ms), ms),
      ...desksThen(await windowOf(ms), own.index, ms),
    };
    if (!isWhole) return base;
    const nth = nthAt(ms);
    const others: NonNullable<Then['others']>[number][] = [];
    for (let back = nth; back > 0 && nth - back < MOST_OTHERS; back -= 1) {
      const change = changes[back];
      const before = change && ms - change.atMs <= NEAR_MS ? await version(back - 1) : null;
      if (before)
        others.push({
          says: `${change!.says} was not in force yet in the phone system`,
          index: before.index,
        });
    }
    const next = changes[nth + 1];
    const after = next && next.atMs - ms <= NEAR_MS ? await version(nth + 1) : null;
    if (after) others.push({ says: `${next!.says} was in force already`, index: after.index });
    return { ...base, behind: await behindAt(ms, known), others };
  }
  return { at, knownAt, registered };
}

const WINDOW_MS = 6 * 3_600_000;
const MOST_WINDOWS = 4;

/** Registrations and seats over some hours. */
interface Window {
  readonly before: ReadonlyMap<string, Registered>;
  /** The first first. */
  readonly changes: readonly (readonly [endpoint: string, change: Registered])[];
  readonly seats: readonly {
    readonly seat: string;
    readonly person: string;
    readonly at: SeatPhone;
    readonly fromMs: number;
    readonly toMs: number | null;
  }[];
  /** Who was signed on at which shared desk; null: nothing is known of that time. */
  readonly desks: readonly (DeskThen & { readonly person: string })[] | null;
}

async function readWindow(db: Queryable, fromMs: number, toMs: number): Promise<Window> {
  const [from, to] = [new Date(fromMs), new Date(toMs)];
  const [before] = await db.query<RowDataPacket[]>(
    `SELECT endpoint, state, at FROM registration_change WHERE id IN
       (SELECT MAX(id) FROM registration_change WHERE at < ? AND endpoint IS NOT NULL GROUP BY endpoint)`,
    [from],
  );
  const [during] = await db.query<RowDataPacket[]>(
    'SELECT endpoint, state, at FROM registration_change WHERE at >= ? AND at < ? AND endpoint IS NOT NULL ORDER BY at, id',
    [from, to],
  );
  const [seats] = await db.query<RowDataPacket[]>(
    'SELECT seat, person, phone, since, ended_at FROM seat_sign_on WHERE since < ? AND (ended_at IS NULL OR ended_at > ?)',
    [to, from],
  );
  const [desks] = await db.query<RowDataPacket[]>(
    `SELECT person, desk, since, ended_at FROM desk_sign_on
     WHERE since < ? AND (ended_at IS NULL OR ended_at > ?) ORDER BY since`,
    [to, from],
  );
  const [[first]] = await db.query<RowDataPacket[]>('SELECT MIN(since) AS at FROM desk_sign_on');
  const changeOf = (row: RowDataPacket): readonly [string, Registered] => [
    String(row.endpoint),
    {
      isThere: row.state === 'registered',
      isKnown: row.state !== 'stopped',
      sinceMs: (row.at as Date).getTime(),
    },
  ];
  return {
    before: new Map(before.map(changeOf)),
    changes: during.map(changeOf),
    desks:
      first?.at instanceof Date && first.at.getTime() <= fromMs
        ? desks.map((row) => ({
            person: String(row.person),
            desk: String(row.desk),
            sinceMs: (row.since as Date).getTime(),
            untilMs: row.ended_at === null ? null : (row.ended_at as Date).getTime(),
          }))
        : null,
    seats: seats.map((row) => ({
      seat: String(row.seat),
      person: String(row.person),
      at: JSON.parse(String(row.phone)) as SeatPhone,
      fromMs: (row.since as Date).getTime(),
      toMs: row.ended_at === null ? null : (row.ended_at as Date).getTime(),
    })),
  };
}

/** Who was signed on at a shared desk at a moment, by the phone of theirs that stands for it. */
function desksThen({ desks }: Window, { people }: EstateIndex, ms: number): Pick<Then, 'desks'> {
  if (desks === null) return {};
  const here = desks.filter(({ sinceMs, untilMs }) => sinceMs <= ms && (untilMs === null || untilMs > ms));
  return {
    desks: new Map(
      here.flatMap(({ person, ...desk }) => {
        const known = people.get(person);
        const phone = known && hotDeskOf(known);
        return phone ? [[phone, desk] as const] : [];
      }),
    ),
  };
}

/** Who was at which seat at a moment. */
function seatsThen({ seats }: Window, ms: number): Pick<Then, 'seats'> {
  const here = seats.filter(({ fromMs, toMs }) => fromMs <= ms && (toMs === null || toMs > ms));
  if (here.length === 0) return {};
  return {
    seats: Object.fromEntries(
      here.map(({ seat, person, at }) => [seat, { person, at, state: 'ready' as const }]),
    ),
  };
}
