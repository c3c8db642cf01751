import { createSocket, type Socket } from 'node:dgram';
import { connect } from 'node:net';
import { compileEstate } from '../../core/calls/engine';
import { endpointTimes } from '../../core/estate';
import { keyPackets, writeRtp } from '../../core/wire/rtp';
import { TELEPHONE_EVENT } from '../../core/wire/sip';
import { workedEstate } from '../../core/tests/worked';
import { openMedia } from '../media/port';
import { placeCall } from '../phones/caller';
import { openPhone, type Phone } from '../phones/phone';
import { openSystem, type PhoneSystem, type SystemEvent } from '../system';
import { ask, udpWire } from '../tests/wire';
import { clockAt } from './clock';
import { openNode, type Carried } from './node';
import { until } from '../tests/until';

/** What somebody else on the network may try against calls and the phone system. */
const TRUNK = { user: 'trunk', password: 'trunk-password' };
const clock = clockAt(10);
let system: PhoneSystem;
let carrier: Phone;
let events: SystemEvent[];
let carried: Carried[];
const open: { close: () => unknown }[] = [];
const kept = <T extends { close: () => unknown }>(each: T): T => {
  open.push(each);
  return each;
};
beforeEach(async () => {
  [events, carried] = [[], []];
  const index = compileEstate(workedEstate());
  carrier = kept(
    await openPhone({
      address: '127.0.47.2',
      clock,
      manner: () => ({
        behaviour: { answerAfterMs: 1000 },
        times: endpointTimes({ kind: 'mobile' }),
        isPublic: true,
        says: 'hello',
      }),
    }),
  );
  system = kept(
    await openSystem({
      address: '127.0.47.1',
      port: 0,
      transports: ['udp', 'tcp'],
      estate: () => index,
      account: (user) => (user === 'trunk' ? { ...TRUNK, endpoint: null } : null),
      userOf: (id) => id,
      carrier: carrier.node.transport.local.udp,
      clock,
      at: () => '2026-11-24T14:20:00-07:00',
      onEvent: (event) => events.push(event),
      onCarried: (each) => carried.push(each),
    }),
  );
});
afterEach(async () => {
  await Promise.all(open.splice(0).map(async (each) => void (await each.close())));
});
const server = () => system.node.transport.local.udp;

test('a call is ended by those who are in it, not by whoever has seen its Call-ID', async () => {
  const placed = await placeCall({
    phone: carrier,
    clock,
    account: TRUNK,
    server: server(),
    from: '+16045550199',
    to: '+12505550101',
    talkMs: 60_000,
  });
  await until(() => events.some(({ kind }) => kind === 'call-settled'));
  const wire = kept(await udpWire(server(), '127.0.47.66'));
  const forged = async (more: object) => {
    wire.send(ask('BYE', 'sip:hostler@127.0.47.1', { callId: placed.callId, ...more }));
    return (await wire.answer()).status;
  };
  // The tags of the dialog, as somebody would have them who has read every message of it.
  const answer = carried
    .map(({ bytes }) => bytes)
    .find((bytes) => /^SIP\/2.0 200/.test(bytes) && bytes.includes(placed.callId))!;
  const line = (name: string) => new RegExp(`\r\n${name}: ([^\r]*)`).exec(answer)![1]!;
  expect(await forged({})).toBe(481);
  expect(await forged({ seq: 9, from: line('From'), to: '<sip:x@127.0.47.1>;tag=guess' })).toBe(481);
  expect(await forged({ seq: 10, from: line('From'), to: line('To') })).toBe(481);
  expect(system.callsInProgress()).toBe(1);
  placed.hangUp();
  expect((await placed.over).status).toBe(200);
  await until(() => system.callsInProgress() === 0);
});

test('keys and sound are taken from the far end that was agreed on, and from nobody else', async () => {
  const keys: string[] = [];
  const media = kept(await openMedia({ address: '127.0.47.1', onKey: (key) => keys.push(key) }));
  const socket = (address: string) =>
    new Promise<Socket>((resolve) => {
      const each = createSocket('udp4');
      each.bind(0, address, () => resolve(kept(each)));
    });
  const [mine, stranger, another] = await Promise.all(
    ['127.0.47.2', '127.0.47.66', '127.0.47.2'].map(socket),
  );
  const press = (from: Socket, key: string, at: number) => {
    for (const packet of keyPackets(key, { sequence: at, timestamp: at * 1000, source: at }, TELEPHONE_EVENT))
      from.send(packet, media.port, '127.0.47.1');
  };
  press(stranger!, '1', 10);
  media.aim({ address: '127.0.47.2', port: mine!.address().port, codecs: [0], eventType: TELEPHONE_EVENT });
  press(stranger!, '2', 20);
  mine!.send(
    writeRtp({
      sequence: 1,
      timestamp: 1,
      source: 1,
      payloadType: 0,
      marker: true,
      payload: new Uint8Array(160),
    }),
    media.port,
    '127.0.47.1',
  );
  press(mine!, '3', 30);
  await until(() => keys.includes('3'));
  press(another!, '4', 40);
  press(mine!, '5', 50);
  await until(() => keys.includes('5'));
  expect(keys).toEqual(['3', '5']);
});

test('an INVITE of nobody gets one answer, however long it waits for more', async () => {
  const wire = kept(await udpWire(server(), '127.0.47.66'));
  const invite = ask('INVITE', 'sip:4101@127.0.47.1', { callId: 'small' });
  wire.send(invite);
  expect((await wire.answer()).status).toBe(401);
  // Longer than the first sendings again (RFC 3261, timer G: 500 ms, 1 s).
  await new Promise((resolve) => setTimeout(resolve, 1800));
  expect(wire.got).toHaveLength(1);
  expect(wire.got.join('').length).toBeLessThan(3 * invite.length);
});

test('five hundred idle streams of one source leave room for others', async () => {
  const { host, port } = system.node.transport.local.tcp;
  const dial = (from: string) =>
    new Promise<ReturnType<typeof connect>>((resolve) => {
      const socket = connect({ host, port, localAddress: from });
      socket.on('error', () => undefined);
      socket.once('connect', () => resolve(socket));
      socket.once('close', () => resolve(socket));
    });
  const held = await Promise.all(Array.from({ length: 500 }, () => dial('127.0.47.66')));
  for (const each of held) kept({ close: () => each.destroy() });
  await until(() => held.filter(({ destroyed }) => destroyed).length >= 400);
  const other = await dial('127.0.47.67');
  kept({ close: () => other.destroy() });
  const answered = new Promise<string>((resolve) => other.once('data', (data) => resolve(data.toString())));
  other.write(
    ask('OPTIONS', 'sip:hostler@127.0.47.1', { via: 'SIP/2.0/TCP 127.0.47.67:9;branch=z9hG4bKtcp;rport' }),
  );
  expect(await answered).toContain('SIP/2.0 200');
});

test('where more comes than can be answered in time, new requests are put off early, told when to come again, and counted', async () => {
  let shed = 0;
  const node = kept(
    await openNode({
      address: '127.0.47.9',
      port: 0,
      transports: ['udp'],
      now: () => 0,
      stateless: ['REGISTER'],
      onShed: (times) => (shed += times),
      onRequest: (asked) => {
        // Each takes its time: three hundred of them are more than a second's work.
        for (const end = performance.now() + 5; performance.now() < end;);
        asked.respond(200);
      },
    }),
  );
  const wire = kept(await udpWire(node.transport.local.udp, '127.0.47.66'));
  for (let n = 0; n < 400; n += 1)
    wire.send(ask('REGISTER', 'sip:127.0.47.9', { callId: `many-${n}`, from: `<sip:u${n}@x>;tag=1` }));
  await until(() => wire.got.length === 400 && shed > 0);
  const late = wire.got.filter((bytes) => bytes.startsWith('SIP/2.0 503'));
  expect(late.length).toBeGreaterThan(20);
  expect(late.every((bytes) => /\r\nRetry-After: \d+\r\n/.test(bytes))).toBe(true);
  // In time again, it takes whoever comes.
  wire.send(ask('REGISTER', 'sip:127.0.47.9', { callId: 'after', from: '<sip:after@x>;tag=1' }));
  await until(() => wire.got.length === 401);
  expect(wire.got.at(-1)).toMatch(/^SIP\/2.0 200/);
});
