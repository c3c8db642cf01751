import type { Estate, Person, RosterEntry, Schedule } from '../estate';
import { fold } from '../search';
import { writeCsv, type Table } from './csv';
import type { PlacedFault } from './text-file';

/** What a list of rosters would make of an organisation. */
export interface RosterList {
  /** People whose roster becomes another. */
  readonly people: readonly Person[];
  /** Hours that come with it. */
  readonly schedules: readonly Schedule[];
  /** How many people of the list have the roster already. */
  readonly same: number;
  readonly faults: readonly PlacedFault[];
}

const HEADINGS = {
  extension: ['extension', 'ext', 'ext.'],
  name: ['name', 'person', 'full name', 'employee'],
  site: ['site', 'place', 'location', 'terminal'],
  hours: ['hours', 'shift', 'schedule'],
  share: ['share', 'percent', '%', 'how often'],
} as const;
type Column = keyof typeof HEADINGS;

const plain = (text: string) => fold(text.trim()).replace(/\s+/g, ' ');

/** The one of a list that an id or a name means; null: none, or several. */
export function oneNamed<T extends { readonly id: string; readonly name: string }>(
  all: readonly T[],
  text: string,
): T | null {
  const byId = all.find(({ id }) => id === text.trim());
  if (byId) return byId;
  const named = all.filter(({ name }) => plain(name) === plain(text));
  return named.length === 1 ? named[0]! : null;
}

/** `60`, `60 %` or `0.6`; null: none that is over 0 and up to all. */
function readShare(text: string): number | null {
  const [, digits, percent] = /^(\d{1,3}(?:[.,]\d{1,3})?)\s*(%?)$/.exec(text.trim()) ?? [];
  if (digits === undefined) return null;
  const value = Number(digits.replace(',', '.'));
  const share = percent === '%' || value > 1 ? value / 100 : value;
  return share > 0 && share <= 1 ? share : null;
}

/** Whether two rosters say the same, in whatever order. */
const isSame = (a: readonly RosterEntry[], b: readonly RosterEntry[]): boolean => {
  const key = ({ site, schedule, share = 1 }: RosterEntry) => JSON.stringify([site, schedule, share]);
  return JSON.stringify(a.map(key).sort()) === JSON.stringify(b.map(key).sort());
};

/** The people of an organisation with the rosters that a list gives them. @param rosters by the person's id */
export function withRosters(
  estate: Pick<Estate, 'people'>,
  rosters: ReadonlyMap<string, readonly RosterEntry[]>,
): Pick<RosterList, 'people' | 'same'> {
  const people: Person[] = [];
  let same = 0;
  for (const person of estate.people) {
    const wanted = rosters.get(person.id);
    if (!wanted) continue;
    const { roster = [], ...rest } = person;
    if (isSame(roster, wanted)) same += 1;
    else people.push(wanted.length > 0 ? { ...rest, roster: wanted } : rest);
  }
  return { people, same };
}

/**
 * Reads rosters as a table: a row for each time that somebody comes to a site, with who (extension or name), site, hours
 * and how often. Whoever stands in the list has the roster of the list afterwards; a row without site and hours takes it
 * away. Nobody else is changed. Nothing is taken over while any row has a fault.
 */
export function readRosters(table: Table, estate: Estate): RosterList {
  const headings = table.headings.map((heading) => plain(heading.replace(/[_-]+/g, ' ')));
  const at = (column: Column) =>
    headings.findIndex((heading) => (HEADINGS[column] as readonly string[]).includes(heading));
  const columns = Object.fromEntries(
    (Object.keys(HEADINGS) as Column[]).map((column) => [column, at(column)]),
  ) as Record<Column, number>;
  const none: RosterList = { people: [], schedules: [], same: 0, faults: [] };
  const missing = [
    ...(columns.extension < 0 && columns.name < 0 ? ['extension" or "name'] : []),
    ...(['site', 'hours'] as const).filter((column) => columns[column] < 0),
  ];
  if (missing.length > 0)
    return {
      ...none,
      faults: missing.map((column) => ({ line: 1, column: 0, message: `no column is headed "${column}"` })),
    };
  const faults: PlacedFault[] = [];
  const rosters = new Map<string, RosterEntry[]>();
  const byExtension = new Map(
    estate.people.flatMap((person) => person.lines.map(({ extension }) => [extension, person] as const)),
  );
  for (const { line, cells } of table.rows) {
    const cell = (column: Column) => (columns[column] < 0 ? '' : (cells[columns[column]] ?? '').trim());
    const wrong = (column: Column, message: string) =>
      void faults.push({ line, column: columns[column] + 1, message });
    const extension = cell('extension');
    const person =
      extension === '' ? oneNamed(estate.people, cell('name')) : (byExtension.get(extension) ?? null);
    if (!person) {
      if (extension !== '') wrong('extension', `nobody has the extension ${extension}`);
      else wrong('name', `“${cell('name')}” is nobody here, or several people`);
      continue;
    }
    const entries = rosters.get(person.id) ?? [];
    rosters.set(person.id, entries);
    if (cell('site') === '' && cell('hours') === '') continue;
    const site = oneNamed(estate.sites ?? [], cell('site'));
    const schedule = oneNamed(estate.schedules, cell('hours'));
    const share = cell('share') === '' ? 1 : readShare(cell('share'));
    if (!site) wrong('site', `“${cell('site')}” is no site`);
    if (!schedule) wrong('hours', `“${cell('hours')}” are no hours`);
    if (share === null) wrong('share', `“${cell('share')}” is no share over 0 and up to 100 %`);
    if (site && schedule && share !== null)
      entries.push({ schedule: schedule.id, site: site.id, ...(share === 1 ? {} : { share }) });
  }
  return faults.length > 0 ? { ...none, faults } : { ...none, ...withRosters(estate, rosters) };
}

/** All rosters as a table that can be read again. */
export const writeRosters = ({ people, sites = [], schedules }: Estate): string =>
  writeCsv(
    ['Extension', 'Name', 'Site', 'Hours', 'Share'],
    people.flatMap(({ name, lines, roster = [] }) =>
      roster.map(({ site, schedule, share = 1 }) => [
        lines[0]?.extension ?? '',
        name,
        sites.find(({ id }) => id === site)?.name ?? site,
        schedules.find(({ id }) => id === schedule)?.name ?? schedule,
        `${Math.round(share * 1000) / 10} %`,
      ]),
    ),
  );
