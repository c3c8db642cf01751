import { freshDatabase, type TestDb } from '../test';
import { filterRecord } from './filter';

let ours: TestDb;
beforeAll(async () => {
  ours = await freshDatabase();
});
afterAll(() => ours.drop());

/** Entries of a year: one a minute, but some are written late, and one import writes many of one moment. */
const DAY_MS = 86_400_000;
const BEGAN = Date.parse('2026-01-01T00:00:00Z');
const times = Array.from({ length: 1500 }, (_each, n) => {
  if (n >= 700 && n < 900) return BEGAN + 700 * 60_000;
  return BEGAN + (n + ((n * 7919) % 41) - 20) * 60_000;
});

test('between any two moments the same entries are found as by going through all of them', async () => {
  await ours.db.query('INSERT INTO record_entry (at, who, kind, subject) VALUES ?', [
    times.map((at, n) => [new Date(at), 'test', 'status-set', `entry ${n}`]),
  ]);
  const bounds = [
    undefined,
    BEGAN - DAY_MS,
    BEGAN,
    BEGAN + 699 * 60_000,
    BEGAN + 700 * 60_000,
    BEGAN + 700 * 60_000 + 1,
    BEGAN + 1200 * 60_000,
    BEGAN + DAY_MS * 400,
  ];
  let found = 0;
  for (const from of bounds)
    for (const to of bounds) {
      const wanted = times
        .map((at, n) => ({ at, subject: `entry ${n}` }))
        .filter(({ at }) => (from === undefined || at >= from) && (to === undefined || at < to))
        .reverse();
      const entries = await filterRecord(
        ours.db,
        {
          ...(from === undefined ? {} : { from: new Date(from).toISOString() }),
          ...(to === undefined ? {} : { to: new Date(to).toISOString() }),
        },
        50,
      );
      expect(entries.map(({ subject }) => subject)).toEqual(
        wanted.slice(0, 50).map(({ subject }) => subject),
      );
      found += entries.length;
    }
  expect(found).toBeGreaterThan(500);
});

test('what was written after a moment is not gone through to find what was before it', async () => {
  const [rows] = await ours.db.query<never[]>(
    "EXPLAIN SELECT id FROM record_entry WHERE at < '2026-01-01 02:00:00' ORDER BY at DESC, id DESC LIMIT 10",
  );
  expect(rows).toMatchObject([{ key: 'record_by_time' }]);
});
