import type { Estate, Person } from '../../estate';
import type { RouteTable } from '../../routes';
import { workedEstate } from '../../tests/worked';
import { outsideNumbers, tollGuard } from './toll';

const AT = Date.parse('2026-11-25T20:00:00Z');
const worked = workedEstate();
const [first, ...others] = worked.people;
const PREMIUM = '+19005550100';
const estate: Estate = {
  ...worked,
  dialling: { ...worked.dialling, country: 'CA' },
  settings: { ...worked.settings, fraudProtection: { prefixes: ['+4420'], ownTargets: 1 } },
  permissions: [
    { id: 'all', name: 'All', allow: ['local', 'national', 'premium', 'international'] },
    { id: 'home', name: 'Home', allow: ['local', 'national'], allowPrefixes: ['+44207'] },
    { id: 'none', name: 'None', allow: ['international'], denyPrefixes: ['+4420'] },
  ],
  trunks: [{ id: 't', name: 'T', channels: 2, carries: ['local', 'national', 'premium', 'international'] }],
  people: [],
  groups: [],
  menus: [],
};
const endingAt = (number: string, permission: string): Person => ({
  ...first!,
  permission,
  endpoints: [],
  plan: { rules: [], otherwise: { stages: [], ending: { kind: 'number', number, present: '+12505550100' } } },
});
const findings = (people: readonly Person[], table: RouteTable | null = null) =>
  tollGuard({ ...estate, people }, table, AT).findings;

test('outside numbers of a plan, but not those that are only shown, nor its own', () => {
  expect(
    outsideNumbers({
      lines: [
        { extension: '4101', numbers: ['+12505550101'], forwardAll: { kind: 'number', number: PREMIUM } },
      ],
      plan: [{ present: '+12505550100', number: '+442079460000' }, { endpoint: '+442079460000' }],
    }),
  ).toEqual([PREMIUM, '+442079460000']);
});

test('a plan that leads to a premium number or one that is watched: open, or stopped by the permission', () => {
  expect(findings([endingAt(PREMIUM, 'all')])).toMatchObject([
    { kind: 'person', number: PREMIUM, weight: 'fault' },
  ]);
  expect(findings([endingAt(PREMIUM, 'home')])).toMatchObject([{ weight: 'risk' }]);
  expect(findings([endingAt('+442079460000', 'none')])).toMatchObject([{ weight: 'risk' }]);
  expect(findings([endingAt('+16045550101', 'all')])).toEqual([]);
});

test('more outside numbers than a person may set', () => {
  const twice = endingAt('+16045550101', 'all');
  const person: Person = {
    ...twice,
    endpoints: [{ id: 'm', label: 'Mobile', kind: 'mobile', number: '+17785550101' }],
  };
  expect(findings([twice])).toEqual([]);
  expect(findings([person])).toMatchObject([{ kind: 'own-targets', id: person.id }]);
});

test('who can call what is watched: deny beats allow, both beat the class, and a trunk must carry it', () => {
  const rows = (given: Estate) =>
    tollGuard(given, null, AT).permissions.map(({ id, premium, prefixes }) => [id, premium, prefixes]);
  expect(rows(estate)).toEqual([
    ['all', true, ['+4420']],
    ['home', false, ['+4420']],
    ['none', false, []],
  ]);
  expect(rows({ ...estate, trunks: [] })).toEqual([
    ['all', false, []],
    ['home', false, []],
    ['none', false, []],
  ]);
  const named = { ...others[0]!, permission: 'home' };
  expect(tollGuard({ ...estate, people: [named] }, null, AT).permissions[1]?.people).toEqual([
    { id: named.id, name: named.name },
  ]);
});

test('routes by which watched numbers leave, each with a call that shows it, also where it is rewritten first', () => {
  const table: RouteTable = {
    peers: [
      { id: 'ours', name: 'Ours', expects: 'dialled' },
      { id: 'carrier', name: 'Carrier', expects: 'e164' },
    ],
    lines: 'ours',
    lists: [],
    routes: [
      {
        id: 'premium',
        name: 'No premium',
        enabled: true,
        when: { dialled: { prefixes: ['+1900', '91900'] } },
        then: { refuse: { cause: 403 } },
      },
      {
        id: 'form',
        name: 'Form',
        enabled: true,
        when: { from: ['ours'], dialled: { prefixes: ['9011'] } },
        then: { rewrite: { rewrite: { drop: 4, prepend: '+' } } },
      },
      {
        id: 'abroad',
        name: 'Abroad',
        enabled: true,
        when: { from: ['ours'], dialled: { prefixes: ['+44'], minDigits: 8, maxDigits: 15 } },
        then: { send: { peer: 'carrier' } },
      },
    ],
  };
  expect(findings([], table)).toMatchObject([
    { kind: 'route', id: 'abroad', says: 'Abroad sends numbers that begin with +4420 to Carrier.' },
  ]);
  const closed = { ...table, routes: table.routes.slice(0, 2) };
  expect(findings([], closed)).toEqual([]);
});
