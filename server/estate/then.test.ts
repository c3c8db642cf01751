import { finderOf, sliceFor, type SliceStart } from '../../core/editing';
import type { Person } from '../../core/estate';
import { inSnapshot, inTransaction } from '../db';
import { demoEstate, freshDatabase, type TestDb } from '../test';
import {
  asOf,
  estateOf,
  loadEstate,
  loadPerson,
  removePeople,
  replaceEstate,
  sliceThen,
  updatePeople,
} from '.';

let ours: TestDb;
beforeAll(async () => {
  ours = await freshDatabase();
  await replaceEstate(ours.db, demoEstate(), 'test');
});
afterAll(() => ours.drop());

const change = async (id: string, how: (person: Person) => Person) => {
  const stored = await loadPerson(ours.db, id);
  await inTransaction(ours.db, (tx) => updatePeople(tx, [how(stored!.person)], 2));
};
/** A moment by the clock of the database, after all that was done and before all that is done next. */
const moment = async (): Promise<number> => {
  const now = async () => {
    const [[row]] = await ours.db.query<never[]>('SELECT UNIX_TIMESTAMP(NOW(6)) * 1000 AS ms');
    return Math.ceil(Number((row as unknown as { ms: string }).ms)) + 1;
  };
  const at = await now();
  for (let tries = 0; tries < 10_000 && (await now()) <= at + 1; tries += 1);
  return at;
};

test('what calls could come to at a moment is what the whole estate of then says, for people, each group and each menu', async () => {
  const moments = [await moment()];
  // A forward leads to somebody whom nothing led to; a phone goes to somebody else; somebody is gone.
  const [first, second, third] = demoEstate().people.map(({ id }) => id);
  await change(
    first!,
    (person) =>
      ({
        ...person,
        lines: person.lines.map((line) => ({ ...line, forwardAll: { kind: 'person', person: third! } })),
      }) as Person,
  );
  moments.push(await moment());
  const moved = (await loadPerson(ours.db, first!))!.person.endpoints.at(-1)!;
  await change(first!, (person) => ({ ...person, endpoints: person.endpoints.slice(0, -1) }));
  await change(second!, (person) => ({ ...person, endpoints: [...person.endpoints, moved] }));
  moments.push(await moment());
  const free = demoEstate().people.at(-1)!.id;
  await inTransaction(ours.db, (tx) => removePeople(tx, [free]));
  moments.push(await moment());

  let looked = 0;
  for (const at of moments) {
    const then = estateOf((await inSnapshot(ours.db, (tx) => loadEstate(tx, asOf(at))))!);
    const finder = finderOf(then);
    const starts: SliceStart[] = [
      // Every third of them, and those that were changed.
      ...demoEstate()
        .people.filter(({ id }, i) => i % 3 === 0 || [first, second, third, free].includes(id))
        .map(({ id }) => ({ person: id })),
      ...then.groups.map(({ id }) => ({ group: id })),
      ...then.menus.map(({ id }) => ({ menu: id })),
    ];
    for (const start of starts) {
      const { slice, whole } = (await sliceThen(ours.db, at, start))!;
      expect(slice).toEqual(sliceFor(then, finder, start));
      expect(whole).toEqual({ ...then, people: [] });
      looked += slice.people.length;
    }
    expect(then.people.some(({ id }) => id === free)).toBe(at !== moments.at(-1));
  }
  expect(looked).toBeGreaterThan(50);
  expect(await sliceThen(ours.db, 1_000_000_000_000, first!)).toBeNull();
});
