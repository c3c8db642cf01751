import type { Estate } from '../../core/estate';
import { estateFile, loadEstate, replaceEstate } from './queries';
import { estateStore } from './store';
import { demoEstate, freshDatabase, type TestDb } from '../test';

let test1: TestDb;
beforeAll(async () => {
  test1 = await freshDatabase();
});
afterAll(() => test1.drop());

const throughDatabase = async (estate: Estate) => {
  await replaceEstate(test1.db, estate, 'test');
  return estateFile(test1.db);
};

test('an empty database holds no estate', async () => {
  expect(await loadEstate(test1.db)).toBeNull();
});
test('the demo estate comes out as it went in, to the letter', async () => {
  const estate = demoEstate();
  expect(JSON.stringify(await throughDatabase(estate)) === JSON.stringify(estate)).toBe(true);
});
test('what is left out stays left out, and what is set to nothing stays set', async () => {
  const estate = demoEstate();
  const [first, second, ...rest] = estate.people;
  const people = [
    {
      ...first!,
      mailbox: {},
      name: 'Zoë “Ω” 🛳',
      lines: first!.lines.map((line) => ({ ...line, forwardAll: null })),
    },
    { ...second!, lines: [], endpoints: [] },
    ...rest.filter((p) => p.id !== 'tomasz'),
  ];
  const odd: Estate = { ...estate, settings: { hopLimit: 3 }, people, groups: [], menus: [] };
  expect(await throughDatabase(odd)).toStrictEqual(odd);
});
test('an estate that fails half way leaves the one before whole', async () => {
  const estate = demoEstate();
  await replaceEstate(test1.db, estate, 'test');
  const twice = { ...estate, name: 'Broken', people: [...estate.people, estate.people[0]!] };
  await expect(replaceEstate(test1.db, twice, 'test')).rejects.toThrow();
  expect(await estateFile(test1.db)).toEqual(estate);
});
test('a store sees what another server wrote, a person or the whole', async () => {
  const store = estateStore(test1.db);
  expect((await store.current()).estate.name).toBe('Skerrow Sound Ferries');
  await replaceEstate(test1.db, { ...demoEstate(), name: 'Another' }, 'other server');
  expect((await store.current()).estate.name).toBe('Another');
  await test1.db.query('UPDATE organisation SET revision = revision + 1');
  await test1.db.query(
    "UPDATE person SET name = 'Ines Changed', revision = (SELECT revision FROM organisation) WHERE id = 'ines'",
  );
  expect((await store.current()).finder.person('ines')?.name).toBe('Ines Changed');
});
