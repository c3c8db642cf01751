import type { Estate } from '../types';
import { object, text, type Field, type Fields, type FieldsOf } from './kinds';
import { access } from './access';
import { desk } from './desks';
import { device, site } from './devices';
import { seat } from './seats';
import { server } from './network';
import { dialling, group, kept, menu, permission, schedule, settings, status, trunk } from './organisation';
import { person, template } from './plan';
import { list, peer, route, table } from './routes';

export type { Field, Fields, Holds } from './kinds';

const estate: FieldsOf<Estate> = {
  format: text('format'),
  name: text('name of the organisation'),
  timeZone: text('time zone'),
  settings: object('times', () => settings),
  dialling: object('dialling', () => dialling),
  permissions: object('permission', () => permission),
  trunks: object('trunk', () => trunk),
  schedules: object('hours', () => schedule),
  statuses: object('status', () => status),
  people: object('person', () => person),
  groups: object('group', () => group),
  menus: object('menu', () => menu),
  promises: object('promise', () => kept),
  templates: object('template', () => template),
  sites: object('site', () => site),
  devices: object('phone', () => device),
  servers: object('server', () => server),
  desks: object('shared desk', () => desk),
  seats: object('seat', () => seat),
  accessNumbers: object('access number', () => access),
  routing: object('route table', () => table),
};

/** The settings of each kind of thing that changes as a whole. */
export const FIELDS = {
  person,
  template,
  permission,
  trunk,
  schedule,
  status,
  group,
  menu,
  promises: kept,
  site,
  device,
  server,
  desk,
  seat,
  access,
  route,
  peer,
  list,
  settings,
  dialling,
  routing: table,
  estate,
} as const satisfies Readonly<Record<string, Fields>>;
export type FieldsKind = keyof typeof FIELDS;
export const isFieldsKind = (kind: string): kind is FieldsKind => Object.hasOwn(FIELDS, kind);

/** The settings that a path names one after the other; null: it is no path of these. */
function walk(fields: Fields, path: string): readonly Field[] | null {
  const found: Field[] = [];
  let at: Fields | undefined = fields;
  for (const part of path
    .replace(/\[[^\]]*\]/g, '')
    .split('.')
    .filter(Boolean)) {
    // The order of a list is a change of the list itself.
    if (part === 'order' && at && !Object.hasOwn(at, part)) break;
    const field: Field | undefined = at && Object.hasOwn(at, part) ? at[part] : undefined;
    if (!field) return null;
    found.push(field);
    at = field.of?.();
  }
  return found;
}

/**
 * The settings that a path such as `plan.rules[r-office].stages[0].forMs` names, from the outermost in.
 * @param kind what the path begins at; left out: the first kind that has such a path
 * @returns empty where no kind has it
 */
export function fieldsAt(path: string, kind?: FieldsKind): readonly Field[] {
  if (kind) {
    const found = walk(FIELDS[kind], path);
    if (found) return found;
  }
  for (const fields of Object.values(FIELDS)) {
    const found = walk(fields, path);
    if (found) return found;
  }
  return [];
}
