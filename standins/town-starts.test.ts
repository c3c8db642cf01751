import { deskEndpoint } from '../core/desks';
import type { Estate } from '../core/estate';
import { workedEstate } from '../core/tests/worked';
import type { FromStandins } from './messages';
import { until } from './tests/until';
import { openTown, type Town } from './town';

const worked = workedEstate();
const [ines] = worked.people as readonly [Estate['people'][number]];
const estate: Estate = {
  ...worked,
  people: worked.people.map((person) =>
    person === ines
      ? { ...person, endpoints: [...person.endpoints, { id: 'ines-hot', label: 'Shared', kind: 'hot-desk' }] }
      : person,
  ),
  devices: [{ id: 'shared', name: 'Hall phone', model: 'gannet-20' }],
  desks: [{ id: 'hall', name: 'Hall desk', device: 'shared' }],
};
const account = (endpoint: string) => ({
  user: 'hall-phone',
  password: 'a password',
  desk: 'hall',
  endpoint,
});
const BARE = account(deskEndpoint('hall'));
const TAKEN = account('ines-hot');
const START_MS = 250;

let town: Town;
let told: FromStandins[] = [];
const open = async (forMs: number) => {
  told = [];
  town = await openTown({ port: 0, tell: (message) => told.push(message), restartsForMs: () => forMs });
  await town.setEstate(estate);
  await town.setAccounts([BARE]);
};
afterEach(() => town.close());
const has = (look: (message: FromStandins) => boolean) => until(() => told.some(look));
const registered = (message: FromStandins) =>
  message.kind === 'registered' && message.registration.user === BARE.user;
const gone = (message: FromStandins) => message.kind === 'unregistered' && message.user === BARE.user;

test('the phone of a desk goes for as long as its model starts again, and comes back as that of whoever signed on', async () => {
  await open(START_MS);
  expect(told.some(registered)).toBe(true);
  told = [];
  const began = performance.now();
  await town.setAccounts([TAKEN]);
  expect(told.some(gone)).toBe(true);
  // What else is done meanwhile does not bring it back sooner.
  const at = told.findIndex(gone);
  await town.setPhones([]);
  expect(told.slice(at).some(registered)).toBe(false);
  await has(
    (message) =>
      message.kind === 'registered' &&
      message.registration.endpoint === 'ines-hot' &&
      told.indexOf(message) > at,
  );
  expect(performance.now() - began).toBeGreaterThanOrEqual(START_MS - 1);
});

test('one that does not have to start again stays where it is', async () => {
  await open(0);
  told = [];
  await town.setAccounts([TAKEN]);
  expect(told.some(gone)).toBe(false);
  expect(told).toContainEqual(
    expect.objectContaining({
      kind: 'registered',
      registration: expect.objectContaining({ endpoint: 'ines-hot' }),
    }),
  );
});

test('whoever signs off while it starts has it begin anew; the same account once more does nothing', async () => {
  await open(START_MS);
  await town.setAccounts([TAKEN]);
  told = [];
  await town.setAccounts([BARE]);
  await has(registered);
  expect(told.filter(registered)).toHaveLength(1);
  expect(told.findLast(registered)).toMatchObject({ registration: { endpoint: deskEndpoint('hall') } });
  told = [];
  await town.setAccounts([BARE]);
  expect(told).toEqual([]);
});

test('stand-ins that end while a phone starts leave nothing behind', async () => {
  await open(60_000);
  await town.setAccounts([TAKEN]);
  await town.close();
  told = [];
  await town.setPhones([]);
  expect(told.some(registered)).toBe(false);
});
