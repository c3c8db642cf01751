import type { RowDataPacket } from 'mysql2/promise';
import type { CallRecord } from '../../core/records';
import { freshDatabase, type TestDb } from '../test';
import { dropMonthsBefore, monthOf, partOffMonths } from './months';
import { callKey, forgetOlder, putCalls, readCallKey } from './queries';

let own: TestDb;
beforeAll(async () => {
  own = await freshDatabase();
});
afterAll(() => own.drop());

const record = (id: string, day: string): CallRecord => ({
  id,
  startMs: Date.parse(`${day}T12:00:00Z`),
  from: null,
  to: '4101',
  outcome: 'answered',
  atMs: 1,
  talkMs: 0,
  legs: [],
});
const ids = async () => {
  const [rows] = await own.db.query<RowDataPacket[]>('SELECT id FROM call_record ORDER BY started_at');
  return rows.map(({ id }) => String(id));
};
const partOf = async (id: string) => {
  const [rows] = await own.db.query<RowDataPacket[]>(
    'EXPLAIN PARTITIONS SELECT body FROM call_record WHERE id = ? AND started_at = (SELECT started_at FROM call_record WHERE id = ?)',
    [id, id],
  );
  return String(rows[0]?.partitions);
};

test('each month has a part of its own, whichever comes first, and a month goes in one statement', async () => {
  const { keeper } = own;
  await putCalls(keeper, [
    record('ancient', '2024-03-05'),
    record('august', '2026-08-31'),
    record('september', '2026-09-01'),
    record('october', '2026-10-20'),
    record('later', '2031-01-01'),
  ]);
  const at = (day: string) => new Date(`${day}T00:00:00Z`);
  await partOffMonths(keeper, at('2026-09-10'), at('2026-10-10'));
  // Earlier and later ones come when they are needed; what is there stays as it is.
  await partOffMonths(keeper, at('2024-03-05'), at('2024-04-01'));
  const made = await partOffMonths(keeper, at('2026-08-01'), at('2026-11-30'));
  expect(made).toEqual(['m202608', 'm202611']);
  expect(await ids()).toEqual(['ancient', 'august', 'september', 'october', 'later']);
  expect(await partOf('september')).toBe('m202609');
  expect(await partOf('ancient')).toBe('m202403');
  expect(await dropMonthsBefore(keeper, at('2026-09-30'))).not.toContain('m202609');
  expect(await ids()).toEqual(['september', 'october', 'later']);
  // A month that is not over yet goes row by row.
  expect(await forgetOlder(own.db, keeper, new Date('2026-10-21T00:00:00Z'))).toBe(1);
  expect(await ids()).toEqual(['later']);
});

test('two servers part off the same months at once, and it is done once', async () => {
  const span = [new Date('2027-01-01T00:00:00Z'), new Date('2027-06-01T00:00:00Z')] as const;
  const made = await Promise.all([1, 2, 3].map(() => partOffMonths(own.keeper, ...span)));
  expect([...new Set(made.flat())].sort()).toEqual(
    ['m202701', 'm202702', 'm202703', 'm202704', 'm202705', 'm202706'].sort(),
  );
  await putCalls(own.keeper, [record('march', '2027-03-31')]);
  expect(await partOf('march')).toBe('m202703');
});

test('the application itself can neither write nor delete call records; it notes how they went', async () => {
  await expect(putCalls(own.db, [record('forged', '2027-03-31')])).rejects.toMatchObject({
    code: 'ER_TABLEACCESS_DENIED_ERROR',
  });
  await expect(own.db.query('DELETE FROM call_record')).rejects.toMatchObject({
    code: 'ER_TABLEACCESS_DENIED_ERROR',
  });
  // And whoever keeps them sees nothing else.
  await expect(own.keeper.query('SELECT * FROM person')).rejects.toMatchObject({
    code: 'ER_TABLEACCESS_DENIED_ERROR',
  });
  await own.db.query("UPDATE call_record SET went = 'planned' WHERE id = 'march'");
  await expect(own.db.query("UPDATE call_record SET went = 'hm' WHERE id = 'march'")).rejects.toThrow();
});

test('a call is found by when it began and its id together', () => {
  const startedAt = new Date('2026-11-24T18:00:00.123Z');
  expect(readCallKey(callKey(startedAt, 'a~b c'))).toEqual({ startedAt, id: 'a~b c' });
  for (const bad of ['', '~', 'cx~y', 'c12', '12~y', `c1~${'y'.repeat(81)}`])
    expect(readCallKey(bad)).toBeNull();
  expect(monthOf(new Date('2026-12-31T23:59:59Z'), 1)).toEqual(new Date('2027-01-01T00:00:00Z'));
});
