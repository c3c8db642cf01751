import { toldDifferences, finderOf } from '../../editing';
import { isFieldsKind, type Estate, type FieldsKind, type Person } from '../../estate';
import { shouldRun } from '../restarts';
import { ANY_OUTSIDE_CALLER, compileEstate, outcomeText, runCall } from '../../calls/engine';
import { describeTreatment, describeWhen, judgeReach, plain } from '../../calls/views';
import {
  affectedBy,
  applyEntries,
  entryKey,
  namesOf,
  sayValue,
  sayWhere,
  withNames,
  type SlateEntry,
  type EntryKind,
  type ToldChange,
} from '../slate';
import { isoIn } from '../../calls/time';

/** One thing to be done by hand on the organisation's own phone system. */
export interface WorkStep {
  /** Stays the same as long as the step does. */
  readonly id: string;
  readonly kind: 'setting' | 'restart' | 'test';
  /** Whose setting it is. */
  readonly whose: string;
  readonly what: string;
  readonly before: string;
  readonly after: string;
}

export interface WorkOrder {
  readonly steps: readonly WorkStep[];
  /** Moments in between at which somebody cannot be reached, however it is ordered; empty: there is none. */
  readonly gaps: readonly string[];
}

/** What is only kept here and means nothing to a phone system. */
const OURS: readonly EntryKind[] = ['template', 'promises'];
/** What others refer to is set first. */
const FIRST: readonly EntryKind[] = [
  'settings',
  'dialling',
  'list',
  'routing',
  'trunk',
  'trunk-order',
  'permission',
  'status',
  'schedule',
];
/** With more entries than these, the order is by who leads to whom alone, and is not tried step by step. */
const MOST_TRIED = 60;

const rank = ({ kind, base, after }: SlateEntry): number =>
  after === null ? 4 : FIRST.includes(kind) ? 0 : base === null ? 1 : 2;

/** Entries in such an order that those who are led to come before those who lead there. */
function byLeading(estate: Estate, after: Estate, entries: readonly SlateEntry[]): SlateEntry[] {
  const reaches = new Map(
    entries.map((entry) => [
      entryKey(entry),
      affectedBy(estate, after, [entry]).map(({ kind, id }) => `${kind}/${id}`),
    ]),
  );
  // Whoever is led to by many of those to be changed is set before them.
  const ledBy = (entry: SlateEntry) =>
    entries.filter((other) => other !== entry && reaches.get(entryKey(entry))!.includes(entryKey(other)))
      .length;
  const counts = new Map(entries.map((entry) => [entry, ledBy(entry)]));
  return [...entries].sort((a, b) => rank(a) - rank(b) || counts.get(b)! - counts.get(a)!);
}

/** Those whose calls are lost in an estate, of some people. */
function lostIn(estate: Estate, people: readonly string[], atMs: number): ReadonlySet<string> {
  const index = compileEstate(estate);
  return new Set(
    people.filter((id) => {
      const person = index.people.get(id);
      return (
        person !== undefined && person.lines.length > 0 && judgeReach(index, person, atMs).state === 'lost'
      );
    }),
  );
}

/**
 * An order in which nobody is lost in between who is not lost before or after; and where there is none, who is.
 */
function safeOrder(
  estate: Estate,
  entries: readonly SlateEntry[],
  atMs: number,
): { readonly order: readonly SlateEntry[]; readonly gaps: readonly string[] } {
  const after = applyEntries(estate, entries);
  const first = byLeading(estate, after, entries);
  if (entries.length > MOST_TRIED) return { order: first, gaps: [] };
  const people = affectedBy(estate, after, entries).flatMap(({ kind, id }) =>
    kind === 'person' ? [id] : [],
  );
  const may = new Set([...lostIn(estate, people, atMs), ...lostIn(after, people, atMs)]);
  const order: SlateEntry[] = [];
  const gaps: string[] = [];
  let now = estate;
  const rest = [...first];
  const lostAfter = (entry: SlateEntry) =>
    [...lostIn(applyEntries(now, [entry]), people, atMs)].filter((id) => !may.has(id));
  while (rest.length > 0) {
    const at = rest.findIndex((entry) => lostAfter(entry).length === 0);
    const [entry] = rest.splice(Math.max(0, at), 1);
    if (at < 0) {
      const names = lostAfter(entry!).map((id) => after.people.find((each) => each.id === id)?.name ?? id);
      gaps.push(`After ${entry!.name}, until the next is done: ${names.join(', ')} cannot be reached.`);
    }
    now = applyEntries(now, [entry!]);
    order.push(entry!);
  }
  return { order, gaps };
}

/** A setting of a person's plan in words, where it is a whole rule or treatment. */
function valueWords(
  estate: Estate,
  person: Person | null,
  kind: FieldsKind | undefined,
  { path, names }: ToldChange,
  value: unknown,
): string {
  if (value === undefined || value === null) return 'none';
  const index = compileEstate(estate);
  if (person && /^plan\.rules\[[^\]]+\]$/.test(path)) {
    const rule = value as Person['plan']['rules'][number];
    return `“${rule.name}”: ${describeWhen(index, rule.when)}. ${plain(describeTreatment(index, rule, person.id))}`;
  }
  return sayValue(value, path, kind, names);
}

/**
 * The changes of a slate as steps for somebody at another system: whose, which setting, what it was and what it
 * becomes, in an order that leaves nobody unreachable, with the restarts and a test call after each person.
 * @param atMs when it is done; the test calls are worked out for that moment
 */
export function workOrder(estate: Estate, entries: readonly SlateEntry[], atMs: number): WorkOrder {
  const theirs = entries.filter(({ kind }) => !OURS.includes(kind));
  const { order, gaps } = safeOrder(estate, theirs, atMs);
  const steps: WorkStep[] = [];
  // What is new on the slate has a name too.
  const names = new Map([...namesOf(estate), ...namesOf(applyEntries(estate, order))]);
  let now = estate;
  for (const entry of order) {
    const then = applyEntries(now, [entry]);
    steps.push(...settingSteps(now, then, entry, names), ...restartSteps(entry));
    now = then;
    steps.push(...testSteps(now, entry, atMs));
  }
  return { steps, gaps };
}

function settingSteps(
  now: Estate,
  then: Estate,
  entry: SlateEntry,
  names: ReadonlyMap<string, string>,
): WorkStep[] {
  const { kind, id, name, base, after } = entry;
  const key = entryKey(entry);
  const step = (what: string, before: string, become: string): WorkStep => ({
    id: `${key}/${what}`,
    kind: 'setting',
    whose: name,
    what,
    before,
    after: become,
  });
  if (after === null) return [step(`${kind} ${id}`, 'there', 'taken out')];
  const person = kind === 'person' ? (after as Person) : null;
  const fields = isFieldsKind(kind) ? kind : undefined;
  const changes = toldDifferences(base ?? {}, after).filter(({ path }) => base === null || path !== 'id');
  return withNames(changes, names, base, after).map((change) =>
    step(
      `${base === null ? 'new ' : ''}${sayWhere(change, fields) || kind}`,
      base === null ? 'none' : valueWords(now, person, fields, change, change.before),
      valueWords(then, person, fields, change, change.after),
    ),
  );
}

function restartSteps({ kind, base, after, name }: SlateEntry): WorkStep[] {
  if (kind !== 'person' || after === null) return [];
  const [was, is] = [base as Person | null, after as Person];
  return is.endpoints.flatMap((endpoint) => {
    const should = shouldRun(is, endpoint);
    const old = was?.endpoints.find(({ id }) => id === endpoint.id);
    const before = was && old ? shouldRun(was, old) : null;
    if (should === null || JSON.stringify(should) === JSON.stringify(before)) return [];
    return [
      {
        id: `person/${is.id}/restart/${endpoint.id}`,
        kind: 'restart' as const,
        whose: name,
        what: `restart: ${endpoint.label}`,
        before: '',
        after: before ? 'it takes up its settings only then' : 'it is set up at its first start',
      },
    ];
  });
}

function testSteps(now: Estate, { kind, id, name }: SlateEntry, atMs: number): WorkStep[] {
  const finder = finderOf(now);
  const extension =
    kind === 'person'
      ? finder.person(id)?.lines[0]?.extension
      : kind === 'group'
        ? finder.group(id)?.extension
        : kind === 'menu'
          ? finder.menu(id)?.extension
          : undefined;
  if (extension === undefined) return [];
  const index = compileEstate(now);
  const { outcome, legs } = runCall(index, {
    from: ANY_OUTSIDE_CALLER,
    to: extension,
    at: isoIn(atMs, now.timeZone),
  });
  const rings = legs.filter(({ alertMs }) => alertMs !== null).length;
  return [
    {
      id: `${kind}/${id}/test`,
      kind: 'test',
      whose: name,
      what: `test call to ${extension} from outside, not answered`,
      before: '',
      after: `${rings} ${rings === 1 ? 'phone rings' : 'phones ring'}. ${outcomeText(index, outcome)}`,
    },
  ];
}
