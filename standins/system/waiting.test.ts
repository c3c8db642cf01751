import { openLine } from '../tests/line';
import { queueWords, waitingLines } from './waiting';
import { until } from '../tests/until';

test('the place in a line, and how long it may take by the answers of late', () => {
  const lines = waitingLines();
  for (const call of ['a', 'b', 'c']) lines.enter('q', call);
  expect(lines.placeOf('q', 'c')).toEqual({ place: 3, waitMs: null });
  lines.leave('q', 'a', 10_000);
  expect(lines.placeOf('q', 'c')).toEqual({ place: 2, waitMs: null });
  lines.enter('q', 'd');
  lines.leave('q', 'b', 70_000);
  expect(lines.placeOf('q', 'c')).toEqual({ place: 1, waitMs: 60_000 });
  // Whoever gives up is no answer; another line is another line.
  lines.leave('q', 'c', null);
  expect(lines.placeOf('q', 'd')).toEqual({ place: 1, waitMs: 60_000 });
  expect(lines.placeOf('other', 'd')).toEqual({ place: 0, waitMs: null });
  expect([
    queueWords({ place: 2, waitMs: null }),
    queueWords({ place: 2, waitMs: 30_000 }),
    queueWords({ place: 4, waitMs: 200_000 }),
  ]).toEqual(['queue place 2', 'queue place 2, less than a minute', 'queue place 4, about 3 min']);
});

test('callers in a queue are told their place, and again when others have gone', async () => {
  const line = await openLine('127.0.42.1', 10, {
    mode: 'linear',
    members: [{ endpoint: 'ines-desk' }],
    ending: { kind: 'queue', maxMs: 120_000, then: { kind: 'hang-up', message: 'nobody' } },
  });
  const heard = async (address: string, patienceMs: number) =>
    [...new Set((await line.call(address, { patienceMs })).heard)].filter((text) =>
      text.startsWith('queue place'),
    );
  const first = heard('127.0.42.3', 30_000);
  await until(() => line.callsInProgress() > 0);
  const second = heard('127.0.42.4', 70_000);
  expect(await first).toEqual(['queue place 1']);
  expect(await second).toEqual(['queue place 2', 'queue place 1']);
  await line.close();
});
