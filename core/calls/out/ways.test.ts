import { workedEstate } from '../../tests/worked';
import { compileEstate } from '../engine';
import type { Tariff } from '../../records';
import type { Person } from '../../estate';
import { USED_UP, waysToCall, type NowKnown } from '.';

const estate = workedEstate();
const index = compileEstate(estate);
const ines = estate.people.find(({ endpoints }) =>
  ['desk', 'mobile'].every((kind) => endpoints.some((endpoint) => endpoint.kind === kind)),
)!;
const NUMBER = '+16045550199';
const line = (prefix: string, perMinute: number) => ({
  prefix,
  name: '',
  perMinute,
  perCall: 0,
  firstS: 1,
  nextS: 1,
  from: null,
  trunk: null,
});
const tariff: Tariff = { currency: 'CAD', lines: [line('+1604', 1000), line('+1', 3000)] };
const known = (more: Partial<NowKnown> = {}): NowKnown => ({
  isRegistered: () => true,
  tariff,
  day: '2026-11-24',
  atMs: Date.parse('2026-11-24T18:00:00Z'),
  used: { ms: 0, money: 0 },
  ...more,
});
const kinds = (person: Person, more: Partial<NowKnown> = {}, number = NUMBER) =>
  waysToCall(index, person, number, known(more)).map(({ kind, works }) => `${works ? '' : 'not '}${kind}`);

test('the phone of the house first, the call back dearer by its own leg, the mobile itself last', () => {
  const ways = waysToCall(index, ines, NUMBER, known());
  expect(ways[0]).toMatchObject({
    kind: 'desk',
    works: true,
    cost: 3000,
    shows: ines.lines[0]?.numbers[0] ?? null,
  });
  const back = ways.find(({ kind }) => kind === 'call-back')!;
  expect(back.cost).toBe(3000 + 9000);
  expect(ways.at(-1)).toMatchObject({ kind: 'mobile', works: true, cost: null });
  expect(ways.at(-1)?.shows).toBe(ines.endpoints.find(({ kind }) => kind === 'mobile')?.number);
});

test('a phone that is not registered is told so, and comes after all that works', () => {
  expect(kinds(ines, { isRegistered: () => false })[0]).toBe('call-back');
  const desk = waysToCall(index, ines, NUMBER, known({ isRegistered: () => false })).find(
    ({ kind }) => kind === 'desk',
  );
  expect(desk).toMatchObject({ works: false, why: 'It is not registered now.' });
});

test('what the permission does not allow works only from the mobile itself', () => {
  const forbidden: Person = {
    ...ines,
    permission: estate.permissions.find(({ allow }) => !allow.includes('international'))!.id,
  };
  const ways = waysToCall(index, forbidden, '+4930303986300', known());
  expect(ways.filter(({ works }) => works).map(({ kind }) => kind)).toEqual(['mobile']);
  expect(ways.find(({ kind }) => kind === 'call-back')?.why).toBe(
    'Your permission does not allow this number.',
  );
});

test('an access number is rung from the mobile; what is asked there, and what is left of the day, is told', () => {
  const whyAt = (access: object, more: Partial<NowKnown> = {}, dayLimit?: { minutes: number }) => {
    const at = compileEstate({
      ...estate,
      accessNumbers: [{ id: 'out', name: 'Out', number: '+12505550199', ...access }],
      permissions: estate.permissions.map((each) => (dayLimit ? { ...each, dayLimit } : each)),
    });
    const way = waysToCall(at, ines, NUMBER, known(more)).find(({ kind }) => kind === 'access')!;
    return [way.works, way.why, way.access?.types];
  };
  const types = '916045550199';
  expect(whyAt({})).toEqual([true, 'Ring +1 250 555 0199, then type the number and the hash key.', types]);
  expect(whyAt({ pin: 'always' })[1]).toContain('type your PIN, then');
  expect(whyAt({ knows: false })[1]).toContain('say who you are by extension and PIN, then');
  expect(whyAt({ knows: false, pin: 'never' })).toEqual([
    false,
    'This number is for staff, and yours is not known.',
    types,
  ]);
  expect(whyAt({}, { used: { ms: 60_000, money: 0 } }, { minutes: 1 })).toEqual([false, USED_UP, types]);
});

test('without a tariff nothing has a price, and the order stays', () => {
  const ways = waysToCall(index, ines, NUMBER, known({ tariff: null }));
  expect(ways.every(({ cost }) => cost === null)).toBe(true);
  expect(ways[0]?.kind).toBe('desk');
});

test('a line that was measured as poor comes after one that was not', () => {
  const [app, other] = [
    { id: 'poor-app', label: 'App', kind: 'mobile-app' as const },
    { id: 'desk-2', label: 'Desk', kind: 'desk' as const },
  ];
  const person: Person = { ...ines, endpoints: [app, other] };
  const scored = { ...index, lineScores: new Map([['poor-app', 2.1]]) };
  const ways = waysToCall(scored, person, NUMBER, known());
  expect(ways.map(({ endpoint }) => endpoint)).toEqual(['desk-2', 'poor-app']);
  expect(ways[1]?.why).toContain('poor');
});
