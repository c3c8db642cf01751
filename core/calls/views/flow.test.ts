import { workedEstate } from '../../tests/worked';
import { compileEstate, runCall } from '../engine';
import { flowOf, type FlowNode } from './flow';

const index = compileEstate(workedEstate());
const OFFICE = Date.parse('2026-11-24T10:00:00-07:00');
const NIGHT = Date.parse('2026-11-24T23:30:00-07:00');

/** Every way through a flow to a place that leads no further, as its branches and its title. */
function ways(node: FlowNode, onlyOpen = false): string[] {
  const branches = node.branches.filter((branch) => !onlyOpen || branch.isOpen);
  return branches.length === 0
    ? [node.title]
    : branches.flatMap((branch) => ways(branch.to, onlyOpen).map((rest) => `${branch.when} > ${rest}`));
}

test('a menu leads by its keys to groups and people, each with when', () => {
  const flow = flowOf(index, '+12505550100', OFFICE)!;
  expect(flow).toMatchObject({ kind: 'menu', title: 'Terminal main menu' });
  expect(flow.branches.map(({ when, isOpen }) => [when, isOpen])).toEqual([
    ['Inside Office hours', true],
    ['Always', false],
  ]);
  const keys = flow.branches[0]!.to.branches;
  expect(keys.map(({ when, to }) => [when, to.kind, to.title])).toEqual([
    ['Key 1', 'group', 'Bookings'],
    ['Key 2', 'person', 'Ines Okafor'],
    ['No key', 'again', 'Bookings'],
  ]);
});
test('at night another rule of the menu is open, and what is behind the first is not', () => {
  const flow = flowOf(index, '4000', NIGHT)!;
  expect(flow.branches.map(({ isOpen }) => isOpen)).toEqual([false, true]);
  expect(flow.branches[0]!.to.branches.every(({ isOpen }) => !isOpen)).toBe(true);
});
test('the open way of a person ends where an unanswered call ends', () => {
  for (const [epochMs, at] of [
    [OFFICE, '2026-11-24T10:00:00-07:00'],
    [NIGHT, '2026-11-24T23:30:00-07:00'],
  ] as const) {
    const open = ways(flowOf(index, '4101', epochMs)!, true);
    const { outcome } = runCall(index, { from: '+0', to: '4101', at });
    const whose = outcome.kind === 'mailbox' ? index.people.get(outcome.person)!.name.split(' ')[0] : '';
    expect(open.some((way) => way.endsWith(`Voicemail for ${whose}`))).toBe(true);
  }
});
test('always-forward comes before the plan, and closes it', () => {
  const flow = flowOf(index, '4105', OFFICE)!;
  expect(flow.branches.filter(({ isOpen }) => isOpen).map(({ when }) => when)).toEqual([
    'Call forwarding is on',
  ]);
});
test('a flow that comes back on itself ends there, and a number that is not ours leads nowhere', () => {
  const estate = workedEstate();
  const round = {
    ...estate,
    people: estate.people.map((p) =>
      p.id === 'tomasz'
        ? {
            ...p,
            plan: {
              rules: [],
              otherwise: { stages: [], ending: { kind: 'person' as const, person: 'ines' } },
            },
          }
        : p,
    ),
  };
  const text = ways(flowOf(compileEstate(round), '4101', NIGHT)!, true);
  expect(text).toContainEqual(expect.stringMatching(/Ines Okafor$/));
  expect(flowOf(index, '9999', OFFICE)).toBeNull();
});
test('an access number leads on from those who are known, from the others by PIN, and is closed outside its hours', () => {
  const estate = workedEstate();
  const access = { id: 'out', name: 'Out', number: '+12505550199' };
  const flow = (more: object, at = OFFICE) =>
    flowOf(compileEstate({ ...estate, accessNumbers: [{ ...access, ...more }] }), access.number, at)!;
  expect(flow({})).toMatchObject({ kind: 'access', id: 'out', title: 'Out' });
  const CALLS = 'the number that is typed is called, as from the desk';
  expect(ways(flow({}))).toEqual([
    `from a mobile of staff > T${CALLS.slice(1)}`,
    `from any other number > After extension and PIN, ${CALLS}`,
  ]);
  expect(ways(flow({ knows: false, pin: 'never' }))).toEqual([
    'from any number > Nobody gets in who is not known',
  ]);
  const [hours] = estate.schedules;
  const closed = flow({ schedule: { id: hours!.id, inside: true } }, NIGHT);
  expect(ways(closed, true)).toEqual([`outside ${hours!.name} > Closed`]);
});
