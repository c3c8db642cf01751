import { compileEstate } from '../../core/calls/engine';
import { workedEstate } from '../../core/tests/worked';
import { placeCall } from '../phones/caller';
import { openPhone } from '../phones/phone';
import { clockAt } from '../sip/clock';
import { openSystem } from '.';
import { queueWords, waitingLines } from './waiting';

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
  const worked = workedEstate();
  const clock = clockAt(10);
  const estate = {
    ...worked,
    groups: [
      {
        id: 'line',
        name: 'Line',
        extension: '4990',
        mode: 'linear' as const,
        members: [{ endpoint: 'ines-desk' }],
        ringMs: 5000,
        permission: 'coast',
        ending: {
          kind: 'queue' as const,
          maxMs: 120_000,
          then: { kind: 'hang-up' as const, message: 'nobody' },
        },
      },
    ],
  };
  const index = compileEstate(estate);
  const TRUNK = { user: 'trunk', password: 'trunk-password' };
  const system = await openSystem({
    address: '127.0.42.1',
    port: 0,
    transports: ['udp', 'tcp'],
    estate: () => index,
    account: (user) => (user === TRUNK.user ? { ...TRUNK, endpoint: null } : null),
    userOf: (endpoint) => endpoint,
    carrier: null,
    clock,
    at: () => '2026-11-24T14:20:00-07:00',
  });
  const caller = async (address: string, patienceMs: number) => {
    const phone = await openPhone({ address, clock, manner: () => null });
    const placed = await placeCall({
      phone,
      clock,
      account: TRUNK,
      server: system.node.transport.local.udp,
      from: '+16045550199',
      to: '4990',
      patienceMs,
    });
    return { over: placed.over, close: () => phone.close() };
  };
  const first = await caller('127.0.42.3', 15_000);
  const second = await caller('127.0.42.4', 50_000);
  const heard = async (of: typeof first) =>
    [...new Set((await of.over).heard)].filter((text) => text.startsWith('queue place'));
  expect(await heard(first)).toEqual(['queue place 1']);
  expect(await heard(second)).toEqual(['queue place 2', 'queue place 1']);
  await Promise.all([first.close(), second.close()]);
  await system.close();
});
