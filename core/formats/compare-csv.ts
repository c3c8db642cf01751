import type { Estate, Person, SimpleEnding } from '../estate';
import { readNumber, showNumber } from '../calls/dialling';
import type { Table } from './csv';
import {
  matchColumns,
  STAFF_FIELD_NAMES,
  staffPlanner,
  type StaffColumns,
  type StaffField,
} from './staff-csv';

/** What else than a staff list a table from a phone system can hold. */
export const SYSTEM_FIELDS = ['forwardAll', 'maxCalls', 'mailbox'] as const;
export type SystemField = (typeof SYSTEM_FIELDS)[number];
export type ComparedField = StaffField | SystemField;

export const COMPARED_FIELD_NAMES: Record<ComparedField, string> = {
  ...STAFF_FIELD_NAMES,
  forwardAll: 'Forward all calls to',
  maxCalls: 'Calls at once',
  mailbox: 'Mailbox (on or off)',
};
export type ComparedColumns = StaffColumns & Partial<Record<SystemField, number>>;

const HEADINGS: Record<SystemField, readonly string[]> = {
  forwardAll: [
    'always forward',
    'forward all',
    'forward all calls',
    'forward all calls to',
    'forward to',
    'forwarded to',
    'unconditional forward',
    'always forward to',
  ],
  maxCalls: ['calls at once', 'maximum calls', 'max calls', 'call limit'],
  mailbox: ['mailbox', 'voicemail', 'voice mail'],
};

/** Matches columns to fields by their headings, as they were matched before where they were. */
export function matchCompared(
  headings: readonly string[],
  remembered: Readonly<Record<string, string>>,
): ComparedColumns {
  const plain = headings.map((heading) => heading.trim().toLowerCase().replace(/[_-]+/g, ' '));
  const columns: ComparedColumns = matchColumns(headings);
  for (const field of SYSTEM_FIELDS) {
    const at = plain.findIndex((heading) => HEADINGS[field].includes(heading));
    if (at >= 0) columns[field] = at;
  }
  for (const [field, heading] of Object.entries(remembered)) {
    const at = headings.indexOf(heading);
    if (at >= 0 && Object.hasOwn(COMPARED_FIELD_NAMES, field)) columns[field as ComparedField] = at;
  }
  return columns;
}

/** One setting in which the other system and the estate differ. */
export interface Deviation {
  readonly id: string;
  readonly person: string;
  readonly name: string;
  readonly what: string;
  readonly ours: string;
  readonly theirs: string;
  /** The person as the other system has it in this setting; null: it cannot be taken over. */
  readonly take: Person | null;
  /** Why it cannot. */
  readonly why: string | null;
}
export interface Comparison {
  readonly rows: number;
  readonly same: number;
  readonly deviations: readonly Deviation[];
  /** Rows that cannot be read, with their lines. */
  readonly refused: readonly { readonly line: number; readonly name: string; readonly message: string }[];
}

const YES = ['on', 'yes', 'true', '1', 'enabled'];
const NO = ['off', 'no', 'false', '0', 'disabled'];

/**
 * Holds a table exported from another phone system against the estate. People are matched by extension; an empty cell
 * says nothing, but for a forward, where it says that there is none.
 */
export function compareTable(estate: Estate, table: Table, columns: ComparedColumns): Comparison {
  const planner = staffPlanner(estate, columns);
  const byExtension = new Map(
    estate.people.flatMap((person) => person.lines.map((line) => [line.extension, person] as const)),
  );
  const deviations: Deviation[] = [];
  const refused: Comparison['refused'][number][] = [];
  const seen = new Set<string>();
  let same = 0;
  for (const row of table.rows) {
    const cell = (field: ComparedField) => {
      const at = columns[field];
      return at === undefined ? undefined : (row.cells[at] ?? '').trim();
    };
    const planned = planner.planRow(row);
    const person = byExtension.get(planned.extension);
    if (person) seen.add(person.id);
    if (planned.action === 'refuse') {
      refused.push({
        line: row.line,
        name: planned.name,
        message: planned.faults.map(({ message }) => message).join('; '),
      });
      continue;
    }
    if (planned.action === 'create') {
      deviations.push({
        id: `new/${planned.extension}`,
        person: planned.person.id,
        name: planned.name,
        what: 'person',
        ours: 'not here',
        theirs: `extension ${planned.extension}`,
        take: planned.person,
        why: null,
      });
      continue;
    }
    if (!person) continue;
    const own: Deviation[] = [];
    const differs = (
      field: string,
      what: string,
      ours: string,
      theirs: string,
      take: Person | null,
      why: string | null = null,
    ) =>
      own.push({
        id: `${person.id}/${field}`,
        person: person.id,
        name: person.name,
        what,
        ours,
        theirs,
        take,
        why,
      });
    if (planned.action === 'change')
      for (const { field, before, after } of planned.changes)
        differs(
          field,
          COMPARED_FIELD_NAMES[field],
          before || 'none',
          after,
          onlyField(planned.person, person, field),
        );
    const forward = cell('forwardAll');
    if (forward !== undefined) compareForward(estate, person, planned.extension, forward, differs);
    const calls = cell('maxCalls');
    if (calls && Number(calls) !== person.maxCalls) {
      const n = Number(calls);
      const ok = Number.isInteger(n) && n > 0;
      differs(
        'maxCalls',
        COMPARED_FIELD_NAMES.maxCalls,
        String(person.maxCalls),
        calls,
        ok ? { ...person, maxCalls: n } : null,
        ok ? null : 'is no number of calls',
      );
    }
    const mailbox = cell('mailbox')?.toLowerCase();
    const isOn = person.mailbox?.enabled !== false;
    if (mailbox && YES.includes(mailbox) !== isOn) {
      const known = YES.includes(mailbox) || NO.includes(mailbox);
      differs(
        'mailbox',
        COMPARED_FIELD_NAMES.mailbox,
        isOn ? 'on' : 'off',
        mailbox,
        known ? { ...person, mailbox: { ...person.mailbox, enabled: !isOn } } : null,
        known ? null : 'is neither on nor off',
      );
    }
    if (own.length === 0) same += 1;
    deviations.push(...own);
  }
  for (const person of estate.people)
    if (person.lines.length > 0 && !seen.has(person.id))
      deviations.push({
        id: `missing/${person.id}`,
        person: person.id,
        name: person.name,
        what: 'person',
        ours: `extension ${person.lines[0]!.extension}`,
        theirs: 'not there',
        take: null,
        why: 'somebody who is not there is taken out here by “Leaves”',
      });
  return { rows: table.rows.length, same, deviations, refused };
}

/** The person with one field of a row alone. */
function onlyField(planned: Person, person: Person, field: StaffField): Person {
  switch (field) {
    case 'name':
    case 'givenName':
    case 'familyName':
      return { ...person, name: planned.name };
    case 'status':
      return { ...person, status: planned.status };
    case 'permission':
      return { ...person, permission: planned.permission };
    case 'direct':
    case 'extension':
      return { ...person, lines: planned.lines };
    case 'mobile':
    case 'home': {
      const kind = field === 'mobile' ? 'mobile' : 'landline';
      const theirs = planned.endpoints.find((each) => each.kind === kind);
      const ours = person.endpoints.some((each) => each.kind === kind);
      if (!theirs) return person;
      return ours
        ? { ...person, endpoints: person.endpoints.map((each) => (each.id === theirs.id ? theirs : each)) }
        : planned;
    }
  }
}

function compareForward(
  estate: Estate,
  person: Person,
  extension: string,
  forward: string,
  differs: (
    field: string,
    what: string,
    ours: string,
    theirs: string,
    take: Person | null,
    why?: string | null,
  ) => void,
): void {
  const line = person.lines.find((each) => each.extension === extension);
  if (!line) return;
  const ours = sayForward(estate, line.forwardAll ?? null);
  const to = readForward(estate, forward);
  const theirs = to === undefined ? forward : sayForward(estate, to);
  if (ours === theirs) return;
  const take =
    to === undefined
      ? null
      : {
          ...person,
          lines: person.lines.map((each) => (each === line ? { ...line, forwardAll: to } : each)),
        };
  differs(
    'forwardAll',
    COMPARED_FIELD_NAMES.forwardAll,
    ours,
    theirs,
    take,
    to === undefined ? 'is no number that is known' : null,
  );
}

const sayForward = (estate: Estate, ending: SimpleEnding | null): string => {
  if (!ending) return 'none';
  if (ending.kind === 'number') return showNumber(ending.number);
  if (ending.kind === 'mailbox') return 'the mailbox';
  if (ending.kind === 'person')
    return estate.people.find(({ id }) => id === ending.person)?.lines[0]?.extension ?? ending.person;
  if (ending.kind === 'endpoint') {
    const phone = estate.people
      .flatMap(({ endpoints }) => endpoints)
      .find(({ id }) => id === ending.endpoint);
    return phone?.number ? showNumber(phone.number) : (phone?.label ?? ending.endpoint);
  }
  if (ending.kind === 'group')
    return estate.groups.find(({ id }) => id === ending.group)?.extension ?? ending.group;
  if (ending.kind === 'menu')
    return estate.menus.find(({ id }) => id === ending.menu)?.extension ?? ending.menu;
  return ending.kind === 'sip' ? ending.uri : 'the end of the call';
};

/** What a forward in a table means; undefined: nothing that is known. */
function readForward(estate: Estate, text: string): SimpleEnding | null | undefined {
  const plain = text.trim().toLowerCase();
  if (plain === '' || NO.includes(plain) || plain === 'none') return null;
  if (['mailbox', 'voicemail', 'voice mail'].includes(plain)) return { kind: 'mailbox' };
  const digits = plain.replace(/\s/g, '');
  const person = estate.people.find(({ lines }) => lines.some(({ extension }) => extension === digits));
  if (person) return { kind: 'person', person: person.id };
  const group = estate.groups.find(({ extension }) => extension === digits);
  if (group) return { kind: 'group', group: group.id };
  const menu = estate.menus.find(({ extension }) => extension === digits);
  if (menu) return { kind: 'menu', menu: menu.id };
  const read = readNumber(text, estate.dialling);
  return read.ok ? { kind: 'number', number: read.e164 } : undefined;
}
