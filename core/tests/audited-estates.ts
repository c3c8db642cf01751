import type { AccessNumber, Device, Endpoint, Estate, Person, Rule, Site } from '../estate';
import { crewOf, personOf, ringing, smallEstate } from './small';

export const NOW = Date.parse('2026-11-25T18:00:00Z');
export const safe = { endpoint: 'ada-mobile', acceptAfterMs: 3000, giveUpAfterMs: 18_000 };
export const ada = (plan: Partial<Person['plan']>, more: Partial<Person> = {}) =>
  personOf('ada', 1, plan, more);
export const rule = (id: string, when: Rule['when'], more: Partial<Rule> = {}): Rule => ({
  id,
  name: id,
  when,
  stages: [],
  ending: { kind: 'mailbox' },
  ...more,
});
export const both = (target: object) => ({
  otherwise: ringing([{ endpoint: 'ada-desk' }, { ...safe, ...target }], 25_000),
});
export const left = personOf('ben', 2, {}, { status: 'left' });
export const ben = personOf('ben', 2, {});
export const toBen = (kind: 'person' | 'mailbox') => ({
  otherwise: { ...ringing([{ endpoint: 'ada-desk' }]), ending: { kind, person: 'ben' } },
});
export const line = (more: object) => ({ lines: [{ ...ada({}).lines[0]!, ...more }] });
export const office = smallEstate([]).schedules[0]!;
export const premium = '+19005550199';
/** Somebody with a softphone. */
export const withApp = (more: Partial<Endpoint>): Estate =>
  smallEstate([
    ada({}, { endpoints: [{ id: 'ada-laptop', label: 'Laptop', kind: 'desktop-app', ...more } as Endpoint] }),
  ]);
/** A group whose one seat passes calls to a number, with what it may call. */
export const passing = (number: string, allow: Estate['permissions'][number]['allow']): Estate =>
  smallEstate([], {
    permissions: [{ id: 'p', name: 'P', allow }],
    trunks: [{ id: 't', name: 'T', channels: 1, carries: ['local', 'premium'] }],
    seats: [{ id: 's', name: 'S', extension: '4551', unattended: { passTo: { number } } }],
    groups: [
      crewOf({ permission: 'p', members: [{ seat: 's' }], ending: { kind: 'hang-up', message: 'closed' } }),
    ],
  });

export const HOME: Site = { id: 'home', name: 'Home of Ada', kind: 'home' };
export const GOOD: Device = {
  id: 'd1',
  name: 'A phone',
  model: 'gannet-20',
  endpoint: 'ada-desk',
  site: 'home',
  firmware: '3.10.0',
  passwordChanged: true,
};
export const withDevice = (device: Partial<Device>, site: Partial<Site> = {}) =>
  smallEstate([ada({})], { sites: [{ ...HOME, ...site }], devices: [{ ...GOOD, ...device }] });

/** Ada may call abroad. */
export const ABROAD: Partial<Person> = { permission: 'abroad' };
export const withAccess = (access: Partial<AccessNumber>, more: Partial<Person> = {}): Estate => {
  const estate = smallEstate([ada({}, more)]);
  return {
    ...estate,
    permissions: [...estate.permissions, { id: 'abroad', name: 'Abroad', allow: ['local', 'international'] }],
    accessNumbers: [{ id: 'out', name: 'Out', number: '+12505550199', ...access }],
  };
};
/** The carrier of the one trunk lets only such numbers show. */
export const screenedBy = (
  allows: readonly string[],
  otherwise: 'refuses' | 'replaces',
  target: object = {},
): Estate => {
  const estate = smallEstate([ada(both(target))]);
  return {
    ...estate,
    trunks: estate.trunks.map((trunk) => ({ ...trunk, screening: { allows, otherwise } })),
  };
};

/** For each check an estate in which it finds something. */
