import {
  finderOf,
  sliceFor,
  type Estate,
  type Person,
  type RingTarget,
  type Stage,
  type Treatment,
} from '../estate';
import { provePromises, type ReachPromise } from '../promises';
import { workedEstate } from './worked';

export const FROM = Date.parse('2026-11-23T08:00:00Z');
export const PROMISES: readonly ReachPromise[] = [
  { kind: 'own-mailbox', withinMs: 25_000 },
  { kind: 'no-foreign-mailbox' },
  { kind: 'no-cut-off', withinMs: 1000 },
  { kind: 'rings-within', withinMs: 5000 },
  { kind: 'no-silence', longestMs: 7000 },
  { kind: 'wait-at-most', longestMs: 30_000 },
  { kind: 'one-lost' },
  { kind: 'only-inside', schedule: 'office' },
  { kind: 'may-dial' },
  { kind: 'no-loop' },
  { kind: 'no-leaver', status: 'left' },
  { kind: 'no-stranger', allowed: [] },
];

/** An estate with Ada (a desk phone, a mobile) and Ben, whose plan is one mailbox. */
export function estateWith(otherwise: Treatment, more: Partial<Person> = {}): Estate {
  const base = { status: 'on', permission: 'all', maxCalls: 1 };
  return {
    ...workedEstate(),
    permissions: [
      { id: 'all', name: 'All', allow: ['local', 'national', 'mobile'] },
      { id: 'none', name: 'None', allow: [] },
    ],
    trunks: [{ id: 'quay', name: 'Quay', channels: 9, carries: ['local', 'national', 'mobile'] }],
    schedules: [
      {
        id: 'office',
        name: 'Office',
        timeZone: 'America/Vancouver',
        weekly: [{ days: ['mon', 'tue', 'wed', 'thu', 'fri'], from: '08:00', to: '17:00' }],
      },
    ],
    statuses: [
      { id: 'on', name: 'On' },
      { id: 'left', name: 'Left' },
    ],
    groups: [],
    menus: [],
    people: [
      {
        ...base,
        id: 'ada',
        name: 'Ada',
        lines: [{ id: 'ada-1', extension: '4100', numbers: [] }],
        endpoints: [
          { id: 'ada-desk', label: 'Desk', kind: 'desk' },
          {
            id: 'ada-mobile',
            label: 'Mobile',
            kind: 'mobile',
            number: '+17785550101',
            mailboxAfterMs: 15_000,
          },
        ],
        plan: { rules: [], otherwise },
        ...more,
      },
      {
        ...base,
        id: 'ben',
        name: 'Ben',
        lines: [{ id: 'ben-1', extension: '4101', numbers: [] }],
        endpoints: [],
        plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' } } },
      },
    ],
  };
}

export const prove = (estate: Estate, promises = PROMISES, spread = 0) =>
  provePromises(sliceFor(estate, finderOf(estate), 'ada'), 'ada', promises, {
    spread,
    fromMs: FROM,
    everyStatus: false,
  });

export const ring = (forMs: number, ...ring: RingTarget[]): Stage => ({ ring, forMs });
