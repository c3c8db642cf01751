import { PERSON_KINDS } from '../../api/record';
import { toldDifferences } from '../../core/editing';
import { andList, parts, type Estate } from '../../core/estate';
import { writeCsv } from '../../core/formats';
import {
  ENTRY_KINDS,
  entriesBetween,
  objectFinder,
  namesOf,
  takenBack,
  withNames,
  type SlateEntry,
  type EntryKind,
} from '../../core/changes/slate';
import type { Drill } from '../../core/calls/drills';
import type { EstateIndex } from '../../core/calls/engine';
import { inSnapshot, inTransaction } from '../db';
import { putDrill } from '../drills';
import { asOf, estateOf, loadEstate, loadRouting } from '../estate';
import { checkedBody, type Route, type SignedIn } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { slateAtOnce, slateEstate, addSlate, putEntries, readSlate } from '../slates';
import {
  filterMasked,
  filterRecord,
  foldedSlates,
  type RecordFilter,
  addRecord,
  readRecord,
  type RecordEntry,
} from '../record';

const PAGE = 50;

/** Nothing is looked for: what a slate changed stands there as one. */
const isWhole = ({ person, who, kind, slate, text }: RecordFilter): boolean =>
  [person, who, kind, slate, text].every((each) => each === undefined);

const undoSchema = parts.closed({
  entries: parts.requiredList(parts.count(1).required('is missing')).min(1),
});
/** Entries, or all of a slate's; `live`: at once, where nothing was changed since. */
const backSchema = parts.closed({
  entries: parts.list(parts.count(1).required('is missing')).min(1),
  slate: parts.count(1),
  live: parts.flag(),
});

const filterOf = (query: SignedIn['query']): RecordFilter => {
  const instant = (name: 'from' | 'to') => {
    const text = query[name];
    if (!text) return {};
    if (Number.isNaN(Date.parse(text)))
      throw refusal(400, 'This is no moment.', { faults: [{ path: name, message: 'is no moment' }] });
    return { [name]: text };
  };
  const slate = Number(query.slate);
  return {
    ...(query.person ? { person: query.person } : {}),
    ...(query.who ? { who: query.who } : {}),
    ...(query.kind ? { kind: query.kind } : {}),
    ...(query.text ? { text: query.text } : {}),
    ...(Number.isSafeInteger(slate) && slate > 0 ? { slate } : {}),
    ...instant('from'),
    ...instant('to'),
  };
};

/** The kind of object that an entry of the record tells of; null: of nothing that can be put back by a slate. */
function objectOf(entry: RecordEntry): { readonly kind: EntryKind; readonly id: string } | null {
  const value = (entry.after ?? entry.before) as { readonly id?: string } | undefined;
  if (value === undefined) return null;
  const whole = (
    {
      'settings-set': 'settings',
      'dialling-set': 'dialling',
      'promises-set': 'promises',
      'routes-changed': 'routing',
    } as const
  )[entry.kind as 'settings-set'];
  if (whole) return { kind: whole, id: whole };
  if (typeof value.id !== 'string') return null;
  if (entry.kind.startsWith('list-')) return { kind: 'list', id: value.id };
  if (entry.personId !== null && PERSON_KINDS.some((each) => each === entry.kind))
    return { kind: 'person', id: value.id };
  const kind = ENTRY_KINDS.find((each) => each === entry.detail);
  return entry.kind.startsWith('object-') && kind ? { kind, id: value.id } : null;
}
/** Of a change more are not sent along: of a list it may be tens of thousands of numbers. */
const MOST_CHANGES = 200;
const MOST_EXPORTED = 50_000;
const EXPORTED = [
  'id',
  'at',
  'who',
  'kind',
  'person',
  'subject',
  'detail',
  'why',
  'slate',
  'before',
  'after',
] as const;

/** The entries of the record that are to be taken back. */
async function entriesToTakeBack(
  { services }: SignedIn,
  { entries: ids, slate }: { readonly entries?: readonly number[]; readonly slate?: number },
): Promise<readonly RecordEntry[]> {
  if ((ids === undefined) === (slate === undefined))
    throw notRight([{ path: 'entries', message: 'say which entries, or which slate' }]);
  if (ids) return readRecord(services.db, ids);
  // Of a slate that was put live over failing drills the record says so in an entry of its own.
  return (await filterRecord(services.db, { slate: slate ?? 0 }, MOST_EXPORTED))
    .filter(({ before, after }) => before !== undefined || after !== undefined)
    .reverse();
}

/** The names of an estate of which an index is there, without going through everybody. */
function namesNow(estate: Estate, index: EstateIndex): Pick<ReadonlyMap<string, string>, 'get'> {
  const objects = namesOf({ ...estate, people: [] });
  return {
    get: (id) => index.endpoints.get(id)?.endpoint.label || index.people.get(id)?.name || objects.get(id),
  };
}

/** A new slate that takes entries of the record back, each without what was changed since. */
async function slateOfUndo(context: SignedIn) {
  const { services, account, body } = context;
  const asked = checkedBody<{ entries?: readonly number[]; slate?: number; live?: boolean }>(
    body,
    backSchema,
  );
  const entries = await entriesToTakeBack(context, asked);
  const live = await slateEstate(services);
  const find = objectFinder(live.estate);
  const made = new Map<string, SlateEntry>();
  const clashes: { name: string; paths: readonly string[] }[] = [];
  // The newest first, so that what an older one finds is as it left it.
  for (const entry of [...entries].reverse()) {
    const which = objectOf(entry);
    if (!which) throw refusal(400, `“${entry.subject}” cannot be undone.`);
    const key = `${which.kind}/${which.id}`;
    const known = made.get(key);
    const now = known ? known.after : find(which);
    const back = takenBack(entry.before, entry.after, now);
    if (!back) continue;
    if (back.clashes.length > 0) clashes.push({ name: entry.subject, paths: back.clashes });
    made.set(key, { ...which, name: entry.subject, base: known ? known.base : back.base, after: back.after });
  }
  if (made.size === 0) throw refusal(409, 'All of this is as it was already.');
  if (asked.live === true && clashes.length > 0)
    throw refusal(
      409,
      `${andList(clashes.map(({ name }) => name))} ${clashes.length === 1 ? 'was' : 'were'} changed again since. Nothing was undone.`,
    );
  const [first] = entries;
  const slate = asked.slate === undefined ? null : await readSlate(services.db, asked.slate);
  const name = `Undo: ${
    slate?.name ?? `${first?.subject ?? ''}${entries.length > 1 ? ` and ${entries.length - 1} more` : ''}`
  }`;
  if (asked.live === true)
    return { body: await slateAtOnce(services, account.name, name, [...made.values()]) };
  const id = await inTransaction(services.db, async (connection) => {
    const slate = await addSlate(connection, name.slice(0, 200), account.name, services.now());
    await putEntries(connection, slate, [...made.values()], account.name, services.now());
    return slate;
  });
  return { status: 201, body: { slate: id, clashes } };
}

/** Keeps a drill again that was removed. */
async function drillAgain({ services, account, body }: SignedIn) {
  const { entries: ids } = checkedBody<{ entries: readonly number[] }>(body, undoSchema);
  const drills = (await readRecord(services.db, ids)).filter(({ kind }) => kind === 'drill-removed');
  if (drills.length < new Set(ids).size) throw refusal(400, 'This is no drill that was removed.');
  await inTransaction(services.db, async (connection) => {
    for (const { before, subject } of drills) {
      await putDrill(connection, before as Drill, account.name, services.now());
      await addRecord(connection, { who: account.name, kind: 'drill-kept', subject, after: before });
    }
  });
  return { body: { drills: drills.length } };
}

export const recordRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/record',
    roles: ROLES,
    handle: async ({ services: { db, store }, account, query }) => {
      const before = query.before ? Number(query.before) : undefined;
      const beforeId = before !== undefined && Number.isSafeInteger(before) ? before : undefined;
      const filter = filterOf(query);
      const { index, estate } = await store.current();
      const names = namesNow(estate, index);
      const entries =
        account.role === 'specialist' || filter.text === undefined
          ? await filterRecord(db, filter, PAGE, beforeId, isWhole(filter))
          : await filterMasked(db, filter, PAGE, beforeId, (number) => index.destinations.has(number));
      const folded = await foldedSlates(db, isWhole(filter) ? entries : []);
      const shown = entries.map(({ before, after, ...entry }) => ({
        ...entry,
        ...(entry.slateId !== null && folded.has(entry.slateId) ? { slate: folded.get(entry.slateId)! } : {}),
        canTakeBack: objectOf({ ...entry, before, after }) !== null,
        changes:
          before === undefined || after === undefined
            ? []
            : withNames(toldDifferences(before, after).slice(0, MOST_CHANGES), names, before, after),
      }));
      return { body: { entries: shown, more: entries.length === PAGE } };
    },
  },
  {
    method: 'GET',
    path: '/api/record/export',
    roles: ['specialist'],
    handle: async ({ services: { db }, query }) => {
      const entries = await filterRecord(db, filterOf(query), MOST_EXPORTED);
      const isCsv = query.form !== 'jsonl';
      const rows = entries.map(
        ({ id, at, who, kind, subject, detail, why, slateId, personId, before, after }) => ({
          id,
          at,
          who,
          kind,
          person: personId ?? '',
          subject,
          detail,
          why,
          slate: slateId ?? '',
          before: before === undefined ? '' : isCsv ? JSON.stringify(before) : before,
          after: after === undefined ? '' : isCsv ? JSON.stringify(after) : after,
        }),
      );
      return {
        text: isCsv
          ? writeCsv(
              EXPORTED,
              rows.map((row) => EXPORTED.map((name) => String(row[name]))),
            )
          : rows.map((row) => `${JSON.stringify(row)}\n`).join(''),
        headers: {
          'Content-Type': isCsv ? 'text/csv; charset=utf-8' : 'application/jsonl; charset=utf-8',
          'Content-Disposition': `attachment; filename="record.${isCsv ? 'csv' : 'jsonl'}"`,
        },
      };
    },
  },
  {
    /** What is different between two moments, object by object. */
    method: 'GET',
    path: '/api/record/between',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db, now }, query }) => {
      const given = (name: 'from' | 'to') => {
        const text = query[name];
        const epochMs = text ? Date.parse(text) : name === 'to' ? now().getTime() : Number.NaN;
        if (Number.isNaN(epochMs)) throw notRight([{ path: name, message: 'is no moment' }]);
        return epochMs;
      };
      const [from, to] = [given('from'), given('to')];
      const [was, is] = await inSnapshot(db, async (tx) => {
        // The database keeps the time of each version by its own clock.
        const at = async (moment: number): Promise<Estate | null> => {
          const then = moment < Date.now() ? asOf(moment) : '';
          const [stored, routing] = [await loadEstate(tx, then), await loadRouting(tx, then)];
          return stored && { ...estateOf(stored), ...(routing ? { routing } : {}) };
        };
        return [await at(from), await at(to)];
      });
      if (!was || !is)
        throw refusal(404, `The estate was not here yet at the ${was ? 'second' : 'first'} moment.`);
      const entries = entriesBetween(was, is);
      const names = new Map([...namesOf(was), ...namesOf(is)]);
      return {
        body: {
          objects: entries.slice(0, MOST_BETWEEN).map(({ kind, id, name, base, after }) => ({
            kind,
            id,
            name,
            action: base === null ? 'add' : after === null ? 'remove' : 'change',
            changes:
              base === null || after === null
                ? []
                : withNames(toldDifferences(base, after).slice(0, MOST_BETWEEN_CHANGES), names, base, after),
          })),
          total: entries.length,
        },
      };
    },
  },
  { method: 'POST', path: '/api/record/slate', roles: ['specialist'], handle: slateOfUndo },
  { method: 'POST', path: '/api/record/drill', roles: ['specialist', 'help-desk'], handle: drillAgain },
];
const MOST_BETWEEN = 500;
const MOST_BETWEEN_CHANGES = 40;
