import { emptyEstate } from '../editing';
import type { Desk, Device, Estate, Person, RosterEntry, Schedule, Weekday } from '../estate';

export const ROSTER_ZONE = 'America/Vancouver';
const WORKING: readonly Weekday[] = ['mon', 'tue', 'wed', 'thu', 'fri'];

/** Hours of a shift, named as they are. */
export const shift = (
  id: string,
  from: string,
  to: string,
  days: readonly Weekday[] = WORKING,
): Schedule => ({
  id,
  name: id,
  timeZone: ROSTER_ZONE,
  weekly: [{ days, from, to }],
});
/** Somebody who comes by a roster, and is reached by nothing. */
export const comer = (id: string, roster: readonly RosterEntry[], more: Partial<Person> = {}): Person => ({
  id,
  name: id,
  status: 'on',
  permission: 'all',
  maxCalls: 2,
  lines: [],
  endpoints: [],
  plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' } } },
  roster,
  ...more,
});
const device = (n: number, site: string): Device => ({
  id: `d${n}`,
  name: `Phone ${n}`,
  model: 'gannet-20',
  site,
});
export const deskOf = (n: number, more: Partial<Desk> = {}): Desk => ({
  id: `k${n}`,
  name: `Desk ${n}`,
  device: `d${n}`,
  ...more,
});

/** A hall with so many desks, and a pier with one. */
export const hallOf = (people: readonly Person[], desks: number, schedules: readonly Schedule[]): Estate => ({
  ...emptyEstate(),
  statuses: [{ id: 'on', name: 'On' }],
  permissions: [{ id: 'all', name: 'All', allow: [] }],
  schedules: [...schedules],
  sites: [
    { id: 'hall', name: 'The hall', kind: 'office' },
    { id: 'pier', name: 'The pier', kind: 'branch' },
  ],
  devices: [...Array.from({ length: desks }, (_each, n) => device(n, 'hall')), device(99, 'pier')],
  desks: [...Array.from({ length: desks }, (_each, n) => deskOf(n)), deskOf(99)],
  people: [...people],
});
