import { workedEstate } from '../../core/tests/worked';
import { tryCounted } from '../auth';
import { testServer, type TestServer } from '../test';
import { checkPin } from './check';

let server: TestServer;
beforeAll(async () => {
  server = await testServer(workedEstate());
});
afterAll(() => server.stop());

const typed = (person: string, pin: string | null) => checkPin(server, { person, typed: pin });

test('a PIN is told from none, right from wrong, and not looked at any more after a few wrong ones', async () => {
  expect(await typed('ines', null)).toBe('none');
  expect(await typed('ines', '480263')).toBe('wrong');
  await server.ask('POST', '/api/people/ines/pin', { as: 'specialist', body: { pin: '480263' } });
  expect([await typed('ines', null), await typed('ines', '480263')]).toEqual(['asked', 'right']);
  for (let n = 0; n < 5; n += 1) expect(await typed('ines', `11${n}`)).toBe('wrong');
  expect(await typed('ines', '480263')).toBe('locked');
  expect(await typed('tomasz', '480263')).toBe('wrong');
});

test('a try that was not judged is no guess, however many come at once; one that was judged stays counted', async () => {
  const bounds = [{ subject: 'a PIN', most: 3 }];
  const busy = () => Promise.reject(new Error('too many wait'));
  const tries = await Promise.allSettled(
    Array.from({ length: 3 }, () => tryCounted(server.db, bounds, busy)),
  );
  expect(tries.map(({ status }) => status)).toEqual(['rejected', 'rejected', 'rejected']);
  const judged = async () => tryCounted(server.db, bounds, () => Promise.resolve('judged'));
  expect([await judged(), await judged(), await judged(), await judged()]).toEqual([
    'judged',
    'judged',
    'judged',
    null,
  ]);
});
