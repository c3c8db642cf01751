import type { Estate, ObjectKind } from '../../estate';

/** The lists of the estate whose objects a slate can hold, by what one of them is called. */
export const LISTS = {
  permission: 'permissions',
  trunk: 'trunks',
  schedule: 'schedules',
  status: 'statuses',
  template: 'templates',
  person: 'people',
  group: 'groups',
  menu: 'menus',
  site: 'sites',
  device: 'devices',
  server: 'servers',
  desk: 'desks',
  seat: 'seats',
  access: 'accessNumbers',
} as const satisfies Record<ObjectKind | 'person', keyof Estate>;
export type ListKind = keyof typeof LISTS;
/** Parts of the estate of which there is one. */
export const WHOLES = ['settings', 'dialling', 'promises', 'routing', 'trunk-order'] as const;
export type WholeKind = (typeof WHOLES)[number];
/** `list`: a list of numbers of the route table, which a slate holds apart from the table's routes. */
export type EntryKind = ListKind | WholeKind | 'list';
export const ENTRY_KINDS: readonly EntryKind[] = [...(Object.keys(LISTS) as ListKind[]), ...WHOLES, 'list'];

/** One change of one object: what it rests on, and what it makes of it. */
export interface SlateEntry {
  readonly kind: EntryKind;
  /** The object's id; of a part of which there is one, its kind. */
  readonly id: string;
  readonly name: string;
  /** The object that was looked at when it was changed; null: there was none. */
  readonly base: unknown;
  /** The object as it shall be; null: removed. */
  readonly after: unknown;
}

export interface Identified {
  readonly id: string;
  readonly name: string;
}

export const isListKind = (kind: EntryKind): kind is ListKind => Object.hasOwn(LISTS, kind);
export const isWholeKind = (kind: EntryKind): kind is WholeKind => WHOLES.some((whole) => whole === kind);
export const entryKey = ({ kind, id }: Pick<SlateEntry, 'kind' | 'id'>): string => `${kind}/${id}`;

/** Where calls come in: a person's line, a group or a menu. */
export interface Start {
  readonly kind: 'person' | 'group' | 'menu';
  readonly id: string;
}
