import type { Estate } from './types';

/** The lists of the estate whose objects are changed one by one, by what one of them is called; people stand apart. */
export const OBJECT_LISTS = {
  permission: 'permissions',
  trunk: 'trunks',
  schedule: 'schedules',
  status: 'statuses',
  group: 'groups',
  menu: 'menus',
  template: 'templates',
  site: 'sites',
  device: 'devices',
  server: 'servers',
  desk: 'desks',
  seat: 'seats',
  access: 'accessNumbers',
} as const satisfies Record<string, keyof Estate>;
export type ObjectKind = keyof typeof OBJECT_LISTS;
export const OBJECT_KINDS = Object.keys(OBJECT_LISTS) as readonly ObjectKind[];
export const isObjectKind = (kind: string | undefined): kind is ObjectKind =>
  kind !== undefined && Object.hasOwn(OBJECT_LISTS, kind);
