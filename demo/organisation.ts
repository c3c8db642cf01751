import type { Group, KeptPromise, Menu, Seat } from '../core/estate';
import { OFFICE } from './special';

/** What belongs to nobody alone: groups, the menu, and what is promised of everybody's calls. */
export const GROUPS: readonly Group[] = [
  {
    id: 'bookings',
    name: 'Bookings',
    extension: '4300',
    numbers: ['+12505550190'],
    mode: 'linear',
    permission: 'coast',
    members: [{ person: 'ruth' }, { person: 'ines' }, { person: 'noor' }],
    ringMs: 12_000,
    ending: { kind: 'mailbox', person: 'ruth' },
  },
  {
    id: 'duty-engineers',
    name: 'Duty engineers',
    extension: '4301',
    mode: 'simultaneous',
    permission: 'coast',
    members: [{ person: 'tomasz' }, { person: 'owen' }, { endpoint: 'jonah-mobile' }],
    ringMs: 20_000,
    ending: { kind: 'queue', maxMs: 30_000, then: { kind: 'hang-up', message: 'try later' } },
  },
  {
    id: 'service-desk',
    name: 'Service desk',
    extension: '4302',
    mode: 'by-rank',
    permission: 'coast',
    members: [
      { seat: 'service-1' },
      { seat: 'service-2' },
      { seat: 'service-3' },
      { seat: 'service-home-1', rank: 2 },
      { seat: 'service-home-2', rank: 2 },
      { seat: 'service-night', rank: 9 },
    ],
    ringMs: 15_000,
    ending: { kind: 'mailbox', person: 'ruth' },
  },
  {
    id: 'freight',
    name: 'Freight',
    extension: '4303',
    mode: 'by-rank',
    permission: 'coast',
    members: [{ seat: 'freight-day' }, { seat: 'freight-night', rank: 2 }],
    ringMs: 15_000,
    ending: { kind: 'mailbox', person: 'ruth' },
  },
];

/**
 * The service desk: three seats in the house, two at home, and one that passes calls on when nobody takes them; and
 * those of freight and of the summer, with mistakes in them.
 */
export const SEATS: readonly Seat[] = [
  ...[1, 2, 3].map((n) => ({
    id: `service-${n}`,
    name: `Service ${n}`,
    extension: `456${n}`,
    wrapUpMs: 20_000,
  })),
  ...[1, 2].map((n) => ({
    id: `service-home-${n}`,
    name: `Service from home ${n}`,
    extension: `456${n + 3}`,
    ringMs: 25_000,
    missesUntilPaused: 3,
    ...(n === 1 ? { holdOpen: true } : {}),
  })),
  {
    id: 'service-night',
    name: 'Service at night',
    extension: '4566',
    unattended: { passTo: { number: '+12505550193' } },
  },
  { id: 'freight-day', name: 'Freight by day', extension: '4567' },
  // A wrong number was typed: it goes to a premium number, which the group may not call either.
  {
    id: 'freight-night',
    name: 'Freight at night',
    extension: '4568',
    unattended: { passTo: { number: '+19005550142' } },
  },
  // Left over from the summer: in no group, and it would pass calls on to our own bookings.
  {
    id: 'summer',
    name: 'Summer service',
    extension: '4569',
    unattended: { passTo: { number: '+12505550190' } },
  },
];

export const MENUS: readonly Menu[] = [
  {
    id: 'main',
    name: 'Terminal main menu',
    extension: '4000',
    numbers: ['+12505550100'],
    permission: 'coast',
    rules: [
      {
        id: 'm-open',
        when: { schedule: OFFICE },
        greetingMs: 8000,
        waitMs: 4000,
        choices: [
          { key: '1', then: { kind: 'group', group: 'bookings' } },
          { key: '2', then: { kind: 'person', person: 'ines' } },
          { key: '3', then: { kind: 'group', group: 'duty-engineers' } },
        ],
        otherwise: { kind: 'group', group: 'bookings' },
      },
      {
        id: 'm-closed',
        when: {},
        greetingMs: 6000,
        waitMs: 0,
        choices: [{ key: '9', then: { kind: 'person', person: 'tomasz' } }],
        otherwise: { kind: 'mailbox', person: 'ruth' },
      },
    ],
  },
];

export const PROMISES: readonly KeptPromise[] = [
  { id: 'pr-mailbox', promise: { kind: 'own-mailbox', withinMs: 70_000 } },
  { id: 'pr-carrier', promise: { kind: 'no-carrier-voicemail' } },
  { id: 'pr-quick', promise: { kind: 'no-cut-off', withinMs: 1000 } },
  { id: 'pr-wait', promise: { kind: 'wait-at-most', longestMs: 90_000 } },
  { id: 'pr-dial', promise: { kind: 'may-dial' } },
  { id: 'pr-loop', promise: { kind: 'no-loop' } },
  { id: 'pr-left', promise: { kind: 'no-leaver', status: 'left' } },
  {
    id: 'pr-hours',
    promise: { kind: 'only-inside', schedule: 'office' },
    people: ['ines', 'ruth', 'mateo'],
  },
];
