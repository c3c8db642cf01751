import { workedEstate } from '../core/tests/worked';
import type { FromStandins, PhoneManner } from './messages';
import { openTown, type Town } from './town';

const estate = workedEstate();
const registering = estate.people.flatMap(({ endpoints }) =>
  endpoints.filter(({ kind }) => kind !== 'mobile' && kind !== 'landline').map(({ id }) => id),
);
const accounts = registering.map((endpoint) => ({
  user: endpoint,
  endpoint,
  password: `secret of ${endpoint}`,
}));
const DESK = 'ines-desk';

let town: Town;
let told: FromStandins[] = [];
beforeEach(async () => {
  told = [];
  town = await openTown({ port: 0, tell: (message) => told.push(message) });
  await town.setEstate(estate);
  await town.setAccounts(accounts);
});
afterEach(() => town.close());

const of = <K extends FromStandins['kind']>(kind: K) =>
  told.filter((each): each is Extract<FromStandins, { kind: K }> => each.kind === kind);
const set = (does: PhoneManner) => town.setPhones([{ endpoint: DESK, does, answerAfterMs: null }]);
const last = (kind: FromStandins['kind']) => of(kind).at(-1);

test('every phone of the estate registers, each from an address of its own on loopback', () => {
  const registrations = of('registered').map(({ registration }) => registration);
  expect(registrations.map(({ endpoint }) => endpoint).sort()).toEqual([...registering].sort());
  const hosts = registrations.map(({ from }) => from.host);
  expect(new Set(hosts).size).toBe(hosts.length);
  for (const host of hosts) expect(host).toMatch(/^127\./);
});

test('a phone with a wrong password is refused, and back once it is right', async () => {
  await set('wrong-password');
  expect(last('refused')).toMatchObject({ user: DESK, why: 'the password is wrong' });
  await set('ready');
  expect(last('registered')).toMatchObject({ registration: { endpoint: DESK, asleep: false } });
});

test('a phone that is switched off says nothing; one that sleeps says how it is woken', async () => {
  await set('off');
  expect(of('unregistered').filter(({ user }) => user === DESK)).toEqual([]);
  await set('asleep');
  expect(last('registered')).toMatchObject({ registration: { endpoint: DESK, asleep: true } });
});

test('a phone that starts again signs off and registers anew', async () => {
  await town.restart([DESK]);
  expect(last('unregistered')).toMatchObject({ user: DESK, why: 'removed' });
  expect(last('registered')).toMatchObject({ registration: { endpoint: DESK } });
});

test('a new password throws a phone off and lets it in again, and one that is gone from the estate is taken down', async () => {
  await town.setAccounts(
    accounts.map((each) => (each.user === DESK ? { ...each, password: 'another' } : each)),
  );
  expect(last('registered')).toMatchObject({ registration: { endpoint: DESK } });
  expect(of('unregistered').some(({ user }) => user === DESK)).toBe(true);
  const before = of('registered').length;
  await town.setEstate({ ...estate, people: estate.people.filter(({ id }) => id !== 'ines') });
  expect(last('unregistered')).toMatchObject({ user: DESK });
  expect(of('registered')).toHaveLength(before);
});
