import { unsafeUniformIntDistribution as draw, xoroshiro128plus } from 'pure-rand';
import { compileEstate } from '../../core/calls/engine';
import { workedEstate } from '../../core/tests/worked';
import { placeCall } from '../phones/caller';
import { openPhone } from '../phones/phone';
import { clockAt } from '../sip/clock';
import { ask, udpWire } from '../tests/wire';
import { openSystem } from '.';

/**
 * A soak of bounded length: rounds of what a system meets in a long life, all at once. After the first rounds nothing
 * that it keeps may grow with their number.
 */
const ROUNDS = 24;
const MOST_TRANSACTIONS = 600;
const CLOCK = clockAt(20);
const index = compileEstate(workedEstate());
const accounts = new Map(
  [...index.endpoints.values()]
    .filter(({ number }) => number === null)
    .map(({ endpoint: { id } }) => [id, { user: id, password: `secret of ${id}`, endpoint: id }]),
);
const HOST = '127.0.44.1';

test('registrations, calls, given-up calls, other people’s messages and noise leave nothing behind', async () => {
  const system = await openSystem({
    address: HOST,
    port: 0,
    transports: ['udp', 'tcp'],
    estate: () => index,
    account: (user) => accounts.get(user) ?? null,
    userOf: (endpoint) => endpoint,
    carrier: null,
    clock: CLOCK,
    at: () => '2026-11-24T14:20:00-07:00',
    mostTransactions: MOST_TRANSACTIONS,
  });
  const server = system.node.transport.local.udp;
  const phones = await Promise.all(
    [...accounts.keys()].map((_, i) =>
      openPhone({
        address: `127.0.44.${10 + i}`,
        clock: CLOCK,
        manner: () => null,
      }),
    ),
  );
  const wire = await udpWire(server, '127.0.44.2');
  const last = await udpWire(server, '127.0.44.3');
  const random = xoroshiro128plus(20261126);
  const noise = () =>
    String.fromCharCode(...Array.from({ length: draw(1, 400, random) }, () => draw(0, 255, random)));
  const users = [...accounts.values()];
  /** A phone that is put off, as the bound on requests in progress has it, comes again as it was told to. */
  const registers = async (nth: number, expiresS: number): Promise<boolean> => {
    for (let tries = 0; tries < 200; tries += 1) {
      const result = await phones[nth]!.register(users[nth]!, server, { expiresS });
      if (result.ok || result.status !== 503) return result.ok;
      await new Promise<void>((again) => CLOCK.after(1000, again));
    }
    return false;
  };
  const kept: number[] = [];
  try {
    for (let round = 0; round < ROUNDS; round += 1) {
      const registered = await Promise.all(phones.map((_, i) => registers(i, round % 3 === 2 ? 0 : 60)));
      expect(registered).toEqual(phones.map(() => true));
      const calls = await Promise.all(
        phones.slice(0, 3).map((phone, i) =>
          placeCall({
            phone,
            clock: CLOCK,
            account: users[i]!,
            server,
            from: users[i]!.user,
            to: ['4101', '9999', '4102'][i]!,
            // Given up before anybody could take it.
            patienceMs: 400,
          }),
        ),
      );
      for (let n = 0; n < 60; n += 1) {
        wire.send(noise());
        wire.send(ask('OPTIONS', `sip:x@${HOST}`, { callId: `o${round}-${n}` }));
        wire.send(ask('INVITE', `sip:4101@${HOST}`, { callId: `i${round}-${n}` }));
        wire.send(ask('BYE', `sip:4101@${HOST}`, { callId: `b${round}-${n}` }));
        wire.send(ask('REGISTER', `sip:${HOST}`, { callId: `r${round}-${n}`, seq: n + 1 }));
      }
      await Promise.all(calls.map(({ over }) => over));
      kept.push(system.node.transactions());
      expect(system.allBindings().length).toBeLessThanOrEqual(phones.length);
    }
    expect(system.callsInProgress()).toBe(0);
    // As many of others' requests as of its own, at most.
    expect(Math.max(...kept)).toBeLessThanOrEqual(2 * MOST_TRANSACTIONS);
    // Half a life later it keeps no more than it did.
    const half = ROUNDS / 2;
    expect(Math.max(...kept.slice(half))).toBeLessThanOrEqual(
      Math.max(...kept.slice(0, half)) + phones.length * 4,
    );
    // And it still does its work.
    last.send(ask('OPTIONS', `sip:x@${HOST}`, { callId: 'last' }));
    expect((await last.answer()).status).toBe(200);
  } finally {
    wire.close();
    last.close();
    for (const phone of phones) await phone.close();
    await system.close();
  }
});
