import { migrate, readMigrations } from './migrate';
import { freshDatabase, type TestDb } from '../test';

let test1: TestDb;
beforeEach(async () => {
  test1 = await freshDatabase(false);
});
afterEach(() => test1.drop());

test('every migration is applied once, in order', async () => {
  const all = readMigrations().map((each) => each.name);
  expect(all).toEqual([...all].sort());
  expect(await migrate(test1.config)).toEqual(all);
  expect(await migrate(test1.config)).toEqual([]);
});
test('two servers at once do it once between them', async () => {
  const [a, b] = await Promise.all([migrate(test1.config), migrate(test1.config)]);
  expect([...a, ...b].sort()).toEqual(readMigrations().map((each) => each.name));
});
test('a file changed after it was applied, and one that is gone, are refused', async () => {
  await migrate(test1.config);
  const [first, ...rest] = readMigrations();
  const changed = [{ ...first!, checksum: 'other' }, ...rest];
  await expect(migrate(test1.config, changed)).rejects.toThrow(
    `migration ${first!.name} was changed after it had been applied`,
  );
  await expect(migrate(test1.config, rest)).rejects.toThrow('does not know');
});
test('a migration that fails is not noted as applied, and those before it are', async () => {
  const all = readMigrations();
  const broken = { number: 99, name: '099_broken.sql', sql: 'CREATE TABEL x', checksum: 'x' };
  await expect(migrate(test1.config, [...all, broken])).rejects.toThrow(/syntax/i);
  expect(await migrate(test1.config, all)).toEqual([]);
});
