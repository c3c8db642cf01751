import type { Endpoint, Estate, Group, Menu, Person, Plan, RingTarget, Treatment } from '../estate';
import { type SlateEntry, type Identified, type ListKind, LISTS } from '../changes/slate';
import { CANADA } from './dial-plans';

/** A small estate that tests share: Ada and Ben with a desk phone and a mobile each, Cleo with a desk phone. */
export const ringing = (ring: readonly RingTarget[], forMs = 20_000): Treatment => ({
  stages: [{ ring, forMs }],
  ending: { kind: 'mailbox' },
});
export const deskOf = (id: string): Endpoint => ({ id: `${id}-desk`, label: 'Desk phone', kind: 'desk' });
export const mobileOf = (id: string, n: number): Endpoint => ({
  id: `${id}-mobile`,
  label: 'Mobile',
  kind: 'mobile',
  number: `+1250555012${n}`,
});

export function personOf(id: string, n: number, plan: Partial<Plan>, more: Partial<Person> = {}): Person {
  return {
    id,
    name: `${id.charAt(0).toUpperCase()}${id.slice(1)} Test`,
    status: 'on',
    permission: 'all',
    maxCalls: 1,
    lines: [{ id: `l-${id}`, extension: `410${n}`, numbers: [`+1250555010${n}`] }],
    endpoints: [deskOf(id), mobileOf(id, n)],
    plan: { rules: [], otherwise: ringing([{ endpoint: `${id}-desk` }]), ...plan },
    ...more,
  };
}

export const smallEstate = (people: readonly Person[], more: Partial<Estate> = {}): Estate => ({
  format: 'hostler-estate/1',
  name: 'Small',
  timeZone: 'America/Vancouver',
  dialling: CANADA,
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
    { id: 'leave', name: 'On leave' },
    { id: 'left', name: 'Has left' },
  ],
  people,
  groups: [],
  menus: [],
  ...more,
});

/** A change of one object of an estate, resting on what is there. */
export function entryFor(
  estate: Estate,
  kind: ListKind,
  id: string,
  change: (object: never) => unknown,
): SlateEntry {
  const list = (estate[LISTS[kind]] ?? []) as readonly Identified[];
  const base = list.find((each) => each.id === id) ?? null;
  const after = change(base as never) as Identified | null;
  return { kind, id, name: after?.name ?? base?.name ?? id, base, after };
}

/** The group of tests: Ada alone, who rings together; its messages are hers. */
export const crewOf = (more: Partial<Group> = {}): Group => ({
  id: 'crew',
  name: 'Crew',
  extension: '4300',
  mode: 'simultaneous',
  members: [{ person: 'ada' }],
  ringMs: 20_000,
  permission: 'all',
  ending: { kind: 'mailbox', person: 'ada' },
  ...more,
});

/** The menu of tests: one rule that always fits and, without a choice, leads to Ada. */
export const mainMenu = (more: Partial<Menu['rules'][number]> = {}): Menu => ({
  id: 'main',
  name: 'Main',
  extension: '4000',
  permission: 'all',
  rules: [
    {
      id: 'm',
      when: {},
      greetingMs: 1000,
      waitMs: 1000,
      choices: [],
      otherwise: { kind: 'person', person: 'ada' },
      ...more,
    },
  ],
});
