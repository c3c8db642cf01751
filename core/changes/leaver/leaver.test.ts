import { referenceFaults, type Estate, type Person } from '../../estate';
import { audit, checkContext } from '../../assurance/checks';
import { compileEstate, runCall } from '../../calls/engine';
import { applyEntries } from '../slate';
import { crewOf, mainMenu, personOf, ringing, smallEstate } from '../../tests/small';
import { leave, type Leaving } from './leave';

const NOW = Date.parse('2026-11-25T18:00:00Z');
const ada = personOf('ada', 1, {
  otherwise: ringing([{ endpoint: 'ada-desk' }, { endpoint: 'ada-mobile' }]),
});
const leadsTo = (n: number, id: string, plan: Partial<Person['plan']>, more: Partial<Person> = {}) =>
  personOf(id, n, plan, more);
const estate: Estate = smallEstate(
  [
    ada,
    leadsTo(
      2,
      'ben',
      { otherwise: { stages: [], ending: { kind: 'person', person: 'ada' } } },
      { mailbox: { copyTo: ['ada'] } },
    ),
    leadsTo(3, 'cleo', {
      otherwise: ringing([{ endpoint: 'cleo-desk' }, { endpoint: 'ada-desk' }, { endpoint: 'ada-mobile' }]),
    }),
    leadsTo(
      4,
      'dora',
      {},
      {
        lines: [
          { id: 'l-dora', extension: '4104', numbers: [], forwardAll: { kind: 'mailbox', person: 'ada' } },
        ],
      },
    ),
  ],
  {
    groups: [
      crewOf({ members: [{ person: 'ada' }, { person: 'cleo' }], ending: { kind: 'person', person: 'ada' } }),
    ],
    menus: [
      mainMenu({
        choices: [{ key: '1', then: { kind: 'person', person: 'ada' } }],
        otherwise: { kind: 'endpoint', endpoint: 'ada-desk' },
      }),
    ],
    devices: [
      { id: 'hers', name: 'Ada’s phone', model: 'gannet-20', endpoint: 'ada-desk' },
      {
        id: 'shared',
        name: 'Shared desk',
        model: 'gannet-20',
        keys: [
          { at: 1, use: 'watch', person: 'ada' },
          { at: 2, use: 'watch', person: 'ben' },
        ],
        signedOn: { person: 'ada', since: '2026-11-25T10:00:00Z' },
      },
    ],
  },
);
const LIST = { id: 'yard', name: 'Yard', numbers: [ada.lines[0]!.numbers![0]!, '+12505550199'] };
const leaving = (more: Partial<Leaving> = {}): Leaving => ({
  person: 'ada',
  successor: null,
  stand: null,
  handLine: false,
  handPhones: false,
  status: 'left',
  ...more,
});
const drill = {
  id: 'd',
  name: 'Ada answers',
  standsFor: { person: 'ada' },
  call: { from: null, at: '2026-11-25T10:00:00-07:00' },
  expect: { kind: 'answered' },
} as const;
const done = (how: Leaving) => {
  const result = leave(estate, how, [drill], [LIST])!;
  return { ...result, after: applyEntries(estate, result.entries) };
};
/** Whatever still names the leaver or their phones, but for the leaver. */
const named = (after: Estate) =>
  JSON.stringify({ ...after, people: after.people.filter(({ id }) => id !== 'ada') }).match(
    /"ada(-\w+)?"/g,
  ) ?? [];

describe('somebody leaves', () => {
  test('greetings that name them are to be recorded anew', () => {
    const says = [{ key: '1', leads: 'person', whom: 'ada' }] as const;
    const menus = estate.menus.map((menu) => ({
      ...menu,
      rules: menu.rules.map((rule) => ({ ...rule, greeting: { says } })),
    }));
    const people = estate.people.map((p) => (p.id === 'ben' ? { ...p, mailbox: { greeting: { says } } } : p));
    const { loose } = leave({ ...estate, menus, people }, leaving(), [])!;
    expect(loose.filter(({ kind }) => kind === 'greeting').map(({ where }) => where.id)).toEqual([
      'ben',
      'main',
    ]);
  });

  test('everything that leads to them is found, each with what would be done', () => {
    const { loose, drills } = done(leaving());
    expect(loose.map(({ kind, where }) => `${kind} ${where.id}`).sort()).toEqual(
      [
        'copy ben',
        'device ada',
        'device ada',
        'device hers',
        'device shared',
        'device shared',
        'drill d',
        'group crew',
        'line ada',
        'list yard',
        'mailbox dora',
        'phone cleo',
        'phone cleo',
        'phone main',
        'plan ben',
        'plan crew',
        'plan main',
      ].sort(),
    );
    expect(drills).toEqual(['d']);
    const entries = (how: Leaving) => new Map(done(how).entries.map((entry) => [entry.id, entry.after]));
    expect(entries(leaving()).get('yard')).toEqual({ ...LIST, numbers: ['+12505550199'] });
    expect(entries(leaving()).get('hers')).not.toHaveProperty('endpoint');
    expect(entries(leaving()).get('shared')).toMatchObject({ keys: [{ at: 2 }] });
    const handed = entries(leaving({ successor: 'cleo', handLine: true, handPhones: true }));
    expect([handed.has('yard'), handed.has('hers')]).toEqual([false, false]);
    expect(handed.get('shared')).toMatchObject({ keys: [{ at: 1, person: 'cleo' }, { at: 2 }] });
    const proposed = (kind: string) =>
      [...new Set(loose.flatMap((each) => (each.kind === kind ? [each.proposal] : [])))].join(', ');
    expect([proposed('group'), proposed('mailbox'), proposed('line'), proposed('list')]).toEqual([
      'taken out',
      'goes to their own mailbox',
      'calls are ended with a message',
      'taken off there',
    ]);
  });

  test.each<[string, Leaving]>([
    ['nobody', leaving()],
    ['somebody who stands in', leaving({ stand: 'cleo' })],
    ['a successor', leaving({ successor: 'cleo' })],
    ['a successor with line and phones', leaving({ successor: 'cleo', handLine: true, handPhones: true })],
  ])('after it, for %s, nothing leads there any more and nothing points at nothing', (_, how) => {
    const { after } = done(how);
    expect(referenceFaults(after)).toEqual([]);
    expect(named(after).filter((id) => !(how.handPhones && id === '"ada-desk"'))).toEqual([]);
    const checks = new Set(audit(checkContext(after, NOW)).map(({ check }) => check));
    for (const bad of [
      'leads-to-leaver',
      'leaver-reaches-out',
      'group-leaver',
      'menu-leads-to-leaver',
      'loop',
    ])
      expect(checks).not.toContain(bad);
    expect(after.people[0]).toMatchObject({ status: 'left', endpoints: [] });
  });

  test('the successor gets line, desk phone and place in the group; the private mobile goes to nobody', () => {
    const { after } = done(leaving({ successor: 'cleo', handLine: true, handPhones: true }));
    const cleo = after.people.find(({ id }) => id === 'cleo')!;
    expect(cleo.lines.map(({ extension }) => extension)).toEqual(['4103', '4101']);
    expect(cleo.endpoints.map(({ id }) => id)).toEqual(['cleo-desk', 'cleo-mobile', 'ada-desk']);
    expect(after.groups[0]!.members).toEqual([{ person: 'cleo' }]);
    expect(JSON.stringify(after)).not.toContain('+12505550121');
    const { outcome } = runCall(compileEstate(after), {
      from: '+0',
      to: '4101',
      at: '2026-11-25T10:00:00-07:00',
    });
    expect(outcome).toMatchObject({ kind: 'mailbox', person: 'cleo' });
  });

  test('without anybody a call to the old number is told so', () => {
    const { after } = done(leaving());
    const { outcome } = runCall(compileEstate(after), {
      from: '+0',
      to: '4101',
      at: '2026-11-25T10:00:00-07:00',
    });
    expect(outcome).toMatchObject({ kind: 'hung-up', message: expect.stringContaining('not with us') });
  });

  test('for nobody known there is nothing', () => {
    expect(leave(estate, leaving({ person: 'zoe' }), [])).toBeNull();
    expect(leave(estate, leaving({ successor: 'zoe' }), [])).toBeNull();
  });
});
