import { readSetting } from '../../core/estate';
import type { EntryKind } from '../../core/changes/slate';

/** What an object of a kind is called, and the page it has. */
export const KIND_WORDS: Record<EntryKind, string> = {
  person: 'person',
  group: 'group',
  menu: 'menu',
  schedule: 'hours',
  status: 'status',
  template: 'template',
  permission: 'permission',
  trunk: 'trunk',
  site: 'site',
  device: 'phone',
  server: 'server',
  desk: 'shared desk',
  seat: 'seat',
  access: 'access number',
  settings: 'times and codes',
  dialling: 'dial plan',
  promises: 'promises',
  'trunk-order': 'order of trunks',
  routing: 'route table',
  list: 'list of numbers',
};
const PAGES: Partial<Record<EntryKind, string>> = {
  person: '/people/',
  group: '/groups/',
  menu: '/menus/',
  schedule: '/hours/',
  status: '/statuses/',
  template: '/templates/',
  site: '/sites/',
  device: '/devices/',
  server: '/networks/servers/',
  desk: '/desks/',
  seat: '/seats/',
  access: '/access/',
  list: '/routes/lists/',
};

export function pageOf(kind: string, id: string): string {
  const page = PAGES[kind as EntryKind];
  if (page) return `${page}${encodeURIComponent(id)}`;
  if (kind === 'routing') return '/routes/table';
  return kind === 'permission' || kind === 'trunk' || kind === 'trunk-order' || kind === 'dialling'
    ? '/routes/dialling'
    : '/routes';
}

const LISTED: Record<string, EntryKind> = {
  people: 'person',
  groups: 'group',
  menus: 'menu',
  schedules: 'schedule',
  templates: 'template',
  permissions: 'permission',
  trunks: 'trunk',
  sites: 'site',
  devices: 'device',
  servers: 'server',
  desks: 'desk',
  seats: 'seat',
  accessNumbers: 'access',
};

/** The page on which a setting stands, by its path in the estate: `people[ines].plan.rules[r-night]`; null: there is none. */
export function pageOfSetting(setting: string): string | null {
  const read = readSetting(setting);
  const kind = read?.of ? LISTED[read.of.list] : undefined;
  if (read?.of && kind) return pageOf(kind, read.of.id);
  return read?.steps[0]?.field === 'dialling' ? pageOf('dialling', '') : null;
}
