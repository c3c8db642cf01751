import { createServer, connect, type AddressInfo, type Server } from 'node:net';
import pino from 'pino';
import { workedCalls, workedEstate } from '../../../core/tests/worked';
import { undisturbed } from '../../../standins/tests/undisturbed';
import { testServer, type TestServer } from '../../test';
import { putPhoneSetting } from '../queries';
import { openSwitchboard } from '../switchboard';
import { until } from '../tests/until';
import type { KeepsWhatGoes, Switchboard } from '../types';
import { leaseOn } from './lease';
import { whatHolds } from './others';
import { sharedSystem } from './shared';

const log = pino({ level: 'silent' });
let server: TestServer;
const opened: Switchboard[] = [];
const nothing = () => undefined;
/** Counts what is kept by each server, and what each watches. */
function counting(): KeepsWhatGoes & { readonly counts: Record<string, number> } {
  const counts: Record<string, number> = {};
  const count = (name: string) => () => void (counts[name] = (counts[name] ?? 0) + 1);
  return {
    counts,
    registration: count('registration'),
    callBegan: count('callBegan'),
    callWentOn: nothing,
    callSettled: count('callSettled'),
    callOver: count('callOver'),
    callOut: nothing,
    ladder: nothing,
    systemEnded: count('systemEnded'),
  };
}
type Opened = Switchboard & {
  readonly kept: Record<string, number>;
  readonly watched: Record<string, number>;
};
let services: Parameters<typeof openSwitchboard>[0];
/** A server's side of the phone system that it shares with the others of its machine. */
function open(host: string): Opened {
  const [kept, watched] = [counting(), counting()];
  const phones = openSwitchboard({
    ...services,
    collect: kept,
    watch: watched,
    open: sharedSystem({ db: services.db, log, host }),
  });
  opened.push(phones);
  return { ...phones, kept: kept.counts, watched: watched.counts };
}
const users = (phones: Switchboard) =>
  phones
    .registrations()
    .map(({ user, contact }) => `${user} ${contact}`)
    .sort();

beforeAll(async () => {
  process.env.HOSTLER_SIP_PORT = '0';
  server = await testServer(workedEstate(), (given) => {
    services = { ...given, log };
    return openSwitchboard({ ...services, open: sharedSystem({ db: given.db, log, host: 'of the pages' }) });
  });
});
afterEach(async () => {
  // Whoever came last goes first: the one that runs it has the others to the end.
  for (const phones of opened.splice(0).reverse()) await phones.close();
});
afterAll(() => server.stop());

test('two servers of a machine have one phone system: what one does the other sees, and what goes is kept once', async () => {
  const one = open('m1');
  await until(one, () => users(one).length > 3);
  const two = open('m1');
  await until(two, () => users(two).length === users(one).length);
  expect(two.place()).toEqual(one.place());
  expect([one.runsHere(), two.runsHere()]).toEqual([true, false]);
  expect(users(two)).toEqual(users(one));
  expect(two.watched.registration).toBe(one.kept.registration);
  expect([two.kept.registration, one.watched.registration]).toEqual([undefined, undefined]);

  // A call that is tried at the second is followed at both to its end.
  const order = { call: workedCalls()[0]!.call, speed: 10, asIf: null } as const;
  const isDone = (at: Switchboard, id: string) => at.liveTry(id)?.state === 'done';
  const tried = await undisturbed(async () => {
    const { id } = (await two.startTry('helper', order as never))!;
    await until(one, () => isDone(one, id));
    await until(two, () => isDone(two, id));
    expect(one.liveTry(id)).toEqual(two.liveTry(id));
    const { who, done } = one.liveTry(id)!;
    return { id, who, departures: done!.departures };
  });
  expect(tried).toMatchObject({ who: 'helper', departures: [] });

  // What the stand-in of a phone does is set over the second, and done where the phone system runs.
  const { endpoint } = one.registrations().find((each) => each.endpoint !== null)!;
  await putPhoneSetting(services.db, { endpoint: endpoint!, does: 'bare', answerAfterMs: null });
  await two.refresh();
  const isGone = (phones: Switchboard) => !phones.registrations().some((each) => each.endpoint === endpoint);
  await until(one, () => isGone(one));
  await until(two, () => isGone(two));
  expect(two.lost().map((each) => each.endpoint)).toEqual(one.lost().map((each) => each.endpoint));
  await putPhoneSetting(services.db, { endpoint: endpoint!, does: 'ready', answerAfterMs: null });

  // A call back is known at both.
  const [person] = workedEstate().people;
  const id = 'one';
  two.callBack({
    id,
    person: person!.id,
    extension: '1',
    endpoint: 'none',
    mobile: '+17785550115',
    number: '+16045550199',
    callerId: null,
    isWithheld: false,
    mostMs: null,
  });
  await until(one, () => one.callsBack(person!.id).some((each) => each.order.id === id));

  // One that comes later is told what was before it came.
  const three = open('m1');
  await until(three, () => users(three).length === users(one).length && three.liveTry(tried.id) !== null);
  expect(three.lost()).toEqual(one.lost());
  expect(three.callsBack(person!.id).map((each) => each.order.id)).toEqual([id]);
}, 90_000);

test('the one that runs it ends: another runs it, and all phones come again', async () => {
  const one = open('m2');
  await until(one, () => users(one).length > 3);
  const [two, three] = [open('m2'), open('m2')];
  for (const each of [two, three]) await until(each, () => users(each).length === users(one).length);
  const names = new Set(one.registrations().map(({ user }) => user));
  const before = await leaseOn(services.db, 'm2').holder();
  // What thirty-two ask for at once is all answered; a call in the middle of which it ends has failed.
  await Promise.all(Array.from({ length: 32 }, () => two.refresh()));
  const live = await two.startTry('helper', { call: workedCalls()[0]!.call, speed: 1, asIf: null });
  expect(live).toMatchObject({ state: 'running' });
  await Promise.all([one.close(), ...Array.from({ length: 32 }, () => three.refresh())]);
  await until(two, () => two.liveTry(live!.id)?.state !== 'running');
  expect(two.liveTry(live!.id)).toMatchObject({ state: 'failed', why: 'The stand-ins stopped.' });
  for (const each of [two, three]) {
    const here = () => new Set(each.registrations().map(({ user }) => user));
    await until(each, () => each.place() !== null && [...names].every((name) => here().has(name)));
  }
  expect(two.place()).toEqual(three.place());
  expect((await leaseOn(services.db, 'm2').holder())?.token).not.toBe(before?.token);
  // Exactly one of them keeps what goes from now on.
  expect(
    [two.kept.registration, three.kept.registration].filter((count) => count !== undefined),
  ).toHaveLength(1);
}, 90_000);

test('ten servers at once on two machines: one phone system on each', async () => {
  const all = Array.from({ length: 10 }, (_, i) => ({
    host: `at once ${i % 2}`,
    phones: open(`at once ${i % 2}`),
  }));
  for (const { phones } of all) await until(phones, () => phones.place() !== null);
  const ports = (host: string) =>
    new Set(all.flatMap((each) => (each.host === host ? [each.phones.place()!.udp] : [])));
  expect([ports('at once 0').size, ports('at once 1').size]).toEqual([1, 1]);
  expect(ports('at once 0')).not.toEqual(ports('at once 1'));
}, 90_000);

describe('the turn of running it', () => {
  const holding = (token: string, pid = process.pid, port = 1) => ({
    pid,
    port,
    token: token.padEnd(64, '0'),
  });
  /** A port at which somebody listens who never says anything. */
  const dumb = () =>
    new Promise<Server>((done) => {
      const listening = createServer().listen(0, '127.0.0.1', () => done(listening));
    });
  const portOf = (listening: Server) => (listening.address() as AddressInfo).port;

  test('is taken by one, kept by it, and taken over only from whom it was seen at', async () => {
    const lease = leaseOn(services.db, 'turn');
    const three = ['a', 'b', 'c'].map((each) => holding(each));
    const first = await Promise.all(three.map((each) => lease.take(each, null)));
    expect(first.filter(Boolean)).toHaveLength(1);
    const holder = (await lease.holder())!;
    const others = three.filter(({ token }) => token !== holder.token);
    const second = await Promise.all(others.map((each) => lease.take(each, holder.token)));
    expect(second.filter(Boolean)).toHaveLength(1);
    expect(await lease.keep(holder.token)).toBe(false);
    await lease.release(holder.token);
    expect(await lease.holder()).not.toBeNull();
  });

  test('is taken over from a process that is gone at once, and from one that is silent', async () => {
    const silent = await dumb();
    const cases = [
      // No process has this id: Linux gives none above 2^22.
      ['gone', holding('gone', 2 ** 22 + 1), 0],
      ['silent', holding('silent', process.pid, portOf(silent)), 60],
    ] as const;
    for (const [host, was, secondsAgo] of cases) {
      await leaseOn(services.db, host).take(was, null);
      await services.db.execute(
        'UPDATE phone_system SET seen_at = UTC_TIMESTAMP(3) - INTERVAL ? SECOND WHERE host = ?',
        [secondsAgo, host],
      );
      const phones = open(host);
      await until(phones, () => phones.place() !== null);
      expect((await leaseOn(services.db, host).holder())?.token).not.toBe(was.token);
    }
    silent.close();
  }, 60_000);

  test('that another one has taken meanwhile is let go of: its phone system ends, and it comes in to the other', async () => {
    const one = open('stalled');
    await until(one, () => users(one).length > 3);
    const before = (await leaseOn(services.db, 'stalled').holder())!;
    await services.db.execute('DELETE FROM phone_system WHERE host = ?', ['stalled']);
    const two = open('stalled');
    await until(two, () => users(two).length > 3);
    expect((await leaseOn(services.db, 'stalled').holder())?.token).not.toBe(before.token);
    await until(one, () => one.place()?.udp === two.place()?.udp);
    expect(one.kept.systemEnded).toBe(1);
    expect(two.kept.registration).toBeGreaterThan(3);
  }, 90_000);
});

test('whoever does not know the token is told nothing, and what is too long is not read', async () => {
  const one = open('shut');
  await until(one, () => one.place() !== null);
  const { port } = (await leaseOn(services.db, 'shut').holder())!;
  for (const bytes of [
    Buffer.alloc(64, 7),
    Buffer.from('GET / HTTP/1.1\r\n\r\n'.repeat(8)),
    Buffer.alloc(200_000),
  ]) {
    const heard: Buffer[] = [];
    await new Promise<void>((done) => {
      const socket = connect(port, '127.0.0.1');
      socket.on('data', (part) => heard.push(part));
      socket.on('error', nothing);
      socket.on('close', () => done());
      socket.write(bytes);
    });
    expect(Buffer.concat(heard)).toHaveLength(0);
  }
  expect(one.place()).not.toBeNull();
}, 60_000);

test('what the phone system has said holds until it says otherwise', () => {
  const holds = whatHolds();
  const registration = { user: 'u', contact: 'c' } as never;
  holds.heard({ kind: 'registered', registration });
  holds.heard({ kind: 'call-began', id: '1', call: {}, by: 'x', startMs: 0 } as never);
  holds.heard({ kind: 'call-settled', id: '1', trace: {} } as never);
  holds.heard({ kind: 'lamp', endpoint: 'e', waiting: { fresh: 1, old: 0 } } as never);
  expect(holds.all().map(({ kind }) => kind)).toEqual(['registered', 'call-began', 'call-settled', 'lamp']);
  holds.heard({ kind: 'unregistered', user: 'u', contact: 'c', why: 'removed' });
  holds.heard({ kind: 'call-over', id: '1', sound: {} } as never);
  expect(holds.all().map(({ kind }) => kind)).toEqual(['lamp']);
});
