import type { EndpointKind } from './types';

/**
 * Templates: a plan in which places stand for what each person has of their own. `own:mobile:1` is the first endpoint
 * of the kind `mobile`, `own:line:1` the first line. Whatever else a plan names (colleagues, groups, menus, schedules)
 * is the same for all who follow it.
 */
const PLACE = /^own:([a-z-]+):([1-9]\d?)$/;

/** Whether an id in a template stands for something of each person's own. */
export const isPlace = (id: string): boolean => PLACE.test(id);

export interface Place {
  readonly kind: EndpointKind | 'line';
  /** Counted from 1. */
  readonly nth: number;
}
export const readPlace = (id: string): Place | null => {
  const [, kind, nth] = PLACE.exec(id) ?? [];
  return kind === undefined ? null : { kind: kind as Place['kind'], nth: Number(nth) };
};

/** The kinds of place, with their words. */
export const PLACE_KINDS: Record<Place['kind'], string> = {
  desk: 'desk phone',
  'desktop-app': 'softphone on a computer',
  'mobile-app': 'softphone on a mobile',
  'remote-desk': 'desk phone away from the office',
  'hot-desk': 'shared desk',
  mobile: 'mobile',
  landline: 'landline',
  sip: 'SIP address',
  line: 'line',
};
const NTH = ['', 'second ', 'third ', 'fourth '];

/** A place in words: `mobile`, `second desk phone`. */
export function placeWords(id: string): string {
  const place = readPlace(id);
  if (!place) return id;
  return `${NTH[place.nth - 1] ?? `${place.nth}th `}${PLACE_KINDS[place.kind] ?? place.kind}`;
}
