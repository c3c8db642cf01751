import type { Estate, Line, Person } from '../estate';
import { beginningPerson, personIds, freeId } from '../editing';
import { readNumber } from '../calls/dialling';
import { writeCsv, type Table, type TableRow } from './csv';

/** What a column of a staff list can mean. */
export const STAFF_FIELDS = [
  'name',
  'givenName',
  'familyName',
  'extension',
  'direct',
  'mobile',
  'home',
  'status',
  'permission',
] as const;
export type StaffField = (typeof STAFF_FIELDS)[number];

export const STAFF_FIELD_NAMES: Record<StaffField, string> = {
  name: 'Name',
  givenName: 'Given name',
  familyName: 'Family name',
  extension: 'Extension',
  direct: 'Direct number',
  mobile: 'Mobile',
  home: 'Home number',
  status: 'Status',
  permission: 'Permission',
};

/** Which column (from 0) each field is read from. */
export type StaffColumns = Partial<Record<StaffField, number>>;

const HEADINGS: Record<StaffField, readonly string[]> = {
  name: ['name', 'full name', 'display name', 'employee', 'person', 'staff'],
  givenName: ['given name', 'first name', 'forename', 'first'],
  familyName: ['family name', 'last name', 'surname', 'last'],
  extension: ['extension', 'ext', 'ext.', 'internal number', 'internal', 'short number', 'desk'],
  direct: [
    'direct number',
    'direct',
    'did',
    'ddi',
    'direct line',
    'work phone',
    'telephone',
    'phone',
    'work number',
  ],
  mobile: ['mobile', 'mobile number', 'mobile phone', 'cell', 'cell phone', 'cellular'],
  home: ['home', 'home number', 'home phone', 'private number'],
  status: ['status', 'state'],
  permission: ['permission', 'class of service', 'calling permission', 'may call'],
};

/** Matches columns to fields by their headings. */
export function matchColumns(headings: readonly string[]): StaffColumns {
  const plain = headings.map((heading) => heading.trim().toLowerCase().replace(/[_-]+/g, ' '));
  const columns: StaffColumns = {};
  for (const field of STAFF_FIELDS) {
    const at = plain.findIndex((heading) => HEADINGS[field].includes(heading));
    if (at >= 0) columns[field] = at;
  }
  return columns;
}

/** Why columns so matched cannot be imported, in words; null if they can. */
export function columnsFault(columns: StaffColumns, table: Table): string | null {
  const hint =
    table.headings.length === 1
      ? ` Only one column was found ("${table.headings[0]?.slice(0, 60)}"): is the delimiter a comma, semicolon, tab or bar?`
      : '';
  if (columns.extension === undefined) return `No column is matched to the extension.${hint}`;
  if (columns.name === undefined && columns.givenName === undefined && columns.familyName === undefined)
    return `No column is matched to the name.${hint}`;
  return null;
}

export interface CellFault {
  readonly field: StaffField;
  /** The column of the file, from 1; 0 if none is matched. */
  readonly column: number;
  readonly message: string;
}

export interface CellChange {
  readonly field: StaffField;
  readonly before: string;
  readonly after: string;
}

/** What will become of one row. `line` is the row's line in the file, from 1. */
export type PlannedRow = { readonly line: number; readonly name: string; readonly extension: string } & (
  | { readonly action: 'create'; readonly person: Person; readonly notes: readonly string[] }
  | { readonly action: 'change'; readonly person: Person; readonly changes: readonly CellChange[] }
  | { readonly action: 'same' }
  | { readonly action: 'refuse'; readonly faults: readonly CellFault[] }
);

interface RowCells {
  readonly name: string;
  readonly extension: string;
  readonly direct: string;
  readonly mobile: string;
  readonly home: string;
  readonly status: string;
  readonly permission: string;
}

function cellsOf(row: TableRow, columns: StaffColumns): RowCells {
  const cell = (field: StaffField) => {
    const at = columns[field];
    return at === undefined ? '' : (row.cells[at] ?? '').trim().replace(/^'(?=[=+\-@])/, '');
  };
  return {
    name: (cell('name') || `${cell('givenName')} ${cell('familyName')}`).trim().replace(/\s+/g, ' '),
    extension: cell('extension').replace(/\s/g, ''),
    direct: cell('direct'),
    mobile: cell('mobile'),
    home: cell('home'),
    status: cell('status'),
    permission: cell('permission'),
  };
}

/** What rows are held against: who has which extension and number now, and in the rows before. */
export interface StaffPlanner {
  readonly planRow: (row: TableRow) => PlannedRow;
}

const find = (objects: readonly { id: string; name: string }[], text: string) =>
  objects.find((o) => o.id === text || o.name.toLowerCase() === text.toLowerCase());

/**
 * Prepares to plan the rows of a staff list against an estate. Rows are matched to people by extension: a new one
 * creates a person whose desk phone rings and whose mobile stands ready, switched off; a known one changes what the
 * row says and leaves the rest, the reach plan above all, as it is. An empty cell changes nothing.
 */
export function staffPlanner(estate: Estate, columns: StaffColumns): StaffPlanner {
  const byExtension = new Map<string, { person: Person; line: Line }>();
  const takenBy = new Map<string, string>();
  const newId = personIds(estate);
  for (const person of estate.people)
    for (const line of person.lines) {
      byExtension.set(line.extension, { person, line });
      for (const number of line.numbers) takenBy.set(number, person.id);
    }
  const reserved = new Map<string, string>();
  for (const object of [...estate.groups, ...estate.menus]) {
    reserved.set(object.extension, object.name);
    for (const number of object.numbers ?? []) reserved.set(number, object.name);
  }
  const linesSeen = new Map<string, number>();
  const firstStatus = estate.statuses[0]?.id ?? '';
  const firstPermission = estate.permissions[0]?.id ?? '';

  function planRow(row: TableRow): PlannedRow {
    const cells = cellsOf(row, columns);
    const faults: CellFault[] = [];
    const fault = (field: StaffField, message: string) =>
      faults.push({ field, column: (columns[field] ?? -1) + 1, message });
    const head = { line: row.line, name: cells.name, extension: cells.extension };

    if (cells.name === '') fault('name', 'no name is given');
    else if (/^[=+\-@]/.test(cells.name))
      fault('name', `"${cells.name.slice(0, 40)}" begins like a formula and is no name`);
    else if (cells.name.length > 200) fault('name', 'the name is longer than 200 characters');
    const { extensionDigits } = estate.dialling;
    if (cells.extension === '') fault('extension', 'no extension is given');
    else if (!/^\d+$/.test(cells.extension))
      fault('extension', `"${cells.extension.slice(0, 40)}" is no extension: digits only`);
    else if (cells.extension.length !== extensionDigits)
      fault(
        'extension',
        `${cells.extension.slice(0, 40)} has ${cells.extension.length} digits; extensions here have ${extensionDigits}`,
      );
    else if (linesSeen.has(cells.extension))
      fault('extension', `${cells.extension} stands in line ${linesSeen.get(cells.extension)} already`);
    else if (reserved.has(cells.extension))
      fault('extension', `${cells.extension} belongs to ${reserved.get(cells.extension)}`);
    else linesSeen.set(cells.extension, row.line);

    const number = (field: 'direct' | 'mobile' | 'home'): string | null => {
      if (cells[field] === '') return null;
      const read = readNumber(cells[field], estate.dialling);
      if (read.ok) return read.e164;
      fault(field, `"${cells[field].slice(0, 40)}": ${read.reason}`);
      return null;
    };
    const direct = number('direct');
    const mobile = number('mobile');
    const home = number('home');
    const known = byExtension.get(cells.extension);
    const directOwner = direct === null ? undefined : (takenBy.get(direct) ?? reserved.get(direct));
    if (direct !== null && directOwner !== undefined && directOwner !== known?.person.id)
      fault('direct', `${direct} belongs to ${nameOf(directOwner)} already`);
    const status = cells.status === '' ? undefined : find(estate.statuses, cells.status);
    if (cells.status !== '' && !status)
      fault(
        'status',
        `there is no status "${cells.status.slice(0, 40)}"; there are ${estate.statuses.map((s) => s.name).join(', ')}`,
      );
    const permission = cells.permission === '' ? undefined : find(estate.permissions, cells.permission);
    if (cells.permission !== '' && !permission)
      fault(
        'permission',
        `there is no permission "${cells.permission.slice(0, 40)}"; there are ${estate.permissions.map((p) => p.name).join(', ')}`,
      );
    if (known && cells.name !== '' && isSomebodyElse(cells.name, known.person.name))
      fault(
        'name',
        `${cells.extension} is ${known.person.name}’s, who would be renamed: give the extension up there first, or rename them on their page`,
      );
    if (!known && cells.status === '' && firstStatus === '')
      fault('status', 'the organisation has no status yet: add one first');
    if (!known && cells.permission === '' && firstPermission === '')
      fault('permission', 'the organisation has no permission yet: add one first');
    if (faults.length > 0) return { ...head, action: 'refuse', faults };

    const read = { direct, mobile, home, status: status?.id, permission: permission?.id };
    if (known) return changeRow(head, cells, known.person, known.line, read);
    const id = newId(cells.name, cells.extension);
    if (direct !== null) takenBy.set(direct, id);
    return createRow(head, id, read);
  }

  const nameOf = (owner: string) => estate.people.find((person) => person.id === owner)?.name ?? owner;

  interface ReadCells {
    readonly direct: string | null;
    readonly mobile: string | null;
    readonly home: string | null;
    readonly status: string | undefined;
    readonly permission: string | undefined;
  }

  function createRow(
    head: { line: number; name: string; extension: string },
    id: string,
    read: ReadCells,
  ): PlannedRow {
    const person = beginningPerson(
      {
        id,
        name: head.name,
        extension: head.extension,
        direct: read.direct ?? undefined,
        mobile: read.mobile ?? undefined,
        home: read.home ?? undefined,
        status: read.status ?? firstStatus,
        permission: read.permission ?? firstPermission,
      },
      false,
    );
    const notes = [
      ...(read.status ? [] : [`status ${estate.statuses[0]?.name ?? 'none'}`]),
      ...(read.permission ? [] : [`permission ${estate.permissions[0]?.name ?? 'none'}`]),
    ];
    return { ...head, action: 'create', person, notes };
  }

  function changeRow(
    head: { line: number; name: string; extension: string },
    cells: RowCells,
    person: Person,
    line: Line,
    read: ReadCells,
  ): PlannedRow {
    const changes: CellChange[] = [];
    const note = (field: StaffField, before: string, after: string) => changes.push({ field, before, after });
    let changed: Person = person;
    if (cells.name !== person.name) {
      note('name', person.name, cells.name);
      changed = { ...changed, name: cells.name };
    }
    if (read.direct !== null && !line.numbers.includes(read.direct)) {
      note('direct', line.numbers.join(' '), read.direct);
      takenBy.set(read.direct, person.id);
      const numbers = [read.direct, ...line.numbers.slice(1)];
      changed = {
        ...changed,
        lines: changed.lines.map((each) => (each.id === line.id ? { ...each, numbers } : each)),
      };
    }
    for (const [field, kind, label] of [
      ['mobile', 'mobile', 'Mobile'],
      ['home', 'landline', 'Home'],
    ] as const) {
      const number = read[field];
      if (number === null || changed.endpoints.some((each) => each.kind === kind && each.number === number))
        continue;
      const at = changed.endpoints.findIndex((each) => each.kind === kind);
      note(field, changed.endpoints[at]?.number ?? '', number);
      const endpoints =
        at >= 0
          ? changed.endpoints.map((each, i) => (i === at ? { ...each, number } : each))
          : [
              ...changed.endpoints,
              {
                id: freeId(
                  `${changed.id}-${field}`,
                  changed.endpoints.map((each) => each.id),
                ),
                label,
                kind,
                number,
              },
            ];
      changed = { ...changed, endpoints };
    }
    if (read.status !== undefined && read.status !== person.status) {
      note('status', person.status, read.status);
      changed = { ...changed, status: read.status };
    }
    if (read.permission !== undefined && read.permission !== person.permission) {
      note('permission', person.permission, read.permission);
      changed = { ...changed, permission: read.permission };
    }
    return changes.length === 0
      ? { ...head, action: 'same' }
      : { ...head, action: 'change', person: changed, changes };
  }

  return { planRow };
}

/** The words of a name, without accents and case. */
const wordsOf = (name: string): ReadonlySet<string> =>
  new Set(
    name
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .split(/[^\p{L}\p{N}]+/u)
      .filter((word) => word.length > 1),
  );
/** Whether two names have no word in common: not one person who is written or called otherwise now. */
function isSomebodyElse(name: string, known: string): boolean {
  const words = wordsOf(known);
  return ![...wordsOf(name)].some((word) => words.has(word));
}

/** The refused rows as CSV: the line, the column, what was read and why it was refused. */
export function refusedCsv(rows: readonly PlannedRow[]): string {
  const refused = rows.flatMap((row) =>
    row.action === 'refuse'
      ? row.faults.map((f) => [
          `${row.line}`,
          `${f.column}`,
          STAFF_FIELD_NAMES[f.field],
          row.name,
          row.extension,
          f.message,
        ])
      : [],
  );
  return writeCsv(['Line', 'Column', 'Field', 'Name', 'Extension', 'Reason'], refused);
}
