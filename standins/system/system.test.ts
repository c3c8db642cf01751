import fc from 'fast-check';
import { compileEstate, type EndpointBehaviour } from '../../core/calls/engine';
import { endpointTimes } from '../../core/estate';
import { header, headersOf, parseSip } from '../../core/wire/sip';
import { workedEstate } from '../../core/tests/worked';
import { placeCall } from '../phones/caller';
import { openPhone, type Phone } from '../phones/phone';
import { clockAt } from '../sip/clock';
import type { Carried } from '../sip/node';
import { ask, tcpWire, udpWire } from '../tests/wire';
import { openSystem, type PhoneSystem, type SystemEvent } from '.';
import { until } from '../tests/until';

const clock = clockAt(10);
const index = compileEstate(workedEstate());
const TRUNK = { user: 'trunk', password: 'trunk-password' };
const DESK = { user: 'ines-desk', password: 'desk-password' };
const AT = '2026-11-24T14:20:00-07:00';
const TO_INES = '+12505550101';

let system: PhoneSystem;
let carrier: Phone;
let log: string[] = [];
let events: SystemEvent[] = [];
let carried: Carried[] = [];
let mobile: EndpointBehaviour = {};
const open: { close: () => unknown }[] = [];
const kept = <T extends { close: () => unknown }>(each: T): T => {
  open.push(each);
  return each;
};

beforeEach(async () => {
  [log, events, carried, mobile] = [[], [], [], {}];
  carrier = kept(
    await openPhone({
      address: '127.0.41.2',
      clock,
      manner: (number) => ({
        behaviour: mobile,
        times: endpointTimes({ kind: 'mobile' }),
        isPublic: true,
        says: `hello from ${number}`,
      }),
    }),
  );
  system = kept(
    await openSystem({
      address: '127.0.41.1',
      port: 0,
      transports: ['udp', 'tcp'],
      estate: () => index,
      account: (user) =>
        [TRUNK, DESK]
          .map((each) => ({ ...each, endpoint: each === TRUNK ? null : each.user }))
          .find((each) => each.user === user) ?? null,
      userOf: (endpoint) => endpoint,
      carrier: carrier.node.transport.local.udp,
      clock,
      at: () => AT,
      onEvent: (event) => events.push(event),
      onCarried: (each) => carried.push(each),
      log: (line) => log.push(line),
    }),
  );
});
afterEach(async () => {
  await Promise.all(open.splice(0).map(async (each) => void (await each.close())));
});

const server = () => system.node.transport.local.udp;
const OPTIONS = (callId: string, more = {}) => ask('OPTIONS', 'sip:hostler@127.0.41.1', { callId, ...more });

async function desk(
  behaviour: EndpointBehaviour,
  address = '127.0.41.10',
  heard: string[] = [],
  isDeaf = false,
) {
  const phone = kept(
    await openPhone({
      address,
      clock,
      manner: () => ({
        behaviour,
        times: endpointTimes({ kind: 'desk' }),
        isPublic: false,
        says: 'hello from the desk',
        isDeaf,
      }),
      onHeard: (_, text) => heard.push(text),
    }),
  );
  expect(await phone.register(DESK, server())).toEqual({ ok: true, expiresS: 300 });
  return phone;
}
async function call(more: { patienceMs?: number; to?: string; password?: string } = {}) {
  const caller = kept(await openPhone({ address: '127.0.41.3', clock, manner: () => null }));
  const placed = await placeCall({
    phone: caller,
    clock,
    account: { ...TRUNK, ...(more.password ? { password: more.password } : {}) },
    server: server(),
    from: '+16045550199',
    to: more.to ?? TO_INES,
    patienceMs: more.patienceMs ?? null,
  });
  return placed.over;
}
const settled = () => events.flatMap((event) => (event.kind === 'call-settled' ? [event.trace] : []));
const sound = () => events.flatMap((event) => (event.kind === 'call-over' ? [event.sound] : []));
const methodsTo = (host: string) =>
  carried
    .flatMap(({ to, bytes }) => (to.host === host ? [bytes.split(' ')[0]!] : []))
    .filter((each) => each !== 'SIP/2.0');

describe('calls', () => {
  test('a phone that registered is rung and answers, the mobile stops, and both hear each other', async () => {
    const heard: string[] = [];
    await desk({ answerAfterMs: 3000 }, undefined, heard);
    const saw = await call();
    expect(saw).toMatchObject({ status: 200, byMachine: false, heard: ['hello from the desk'] });
    expect(heard).toContain('hello');
    expect(settled()[0]!.outcome).toMatchObject({ kind: 'answered', endpoint: 'ines-desk' });
    expect(sound()[0]).toEqual({ fromCaller: 5, fromCalled: 5 });
    const cancel = carried.find(({ bytes, to }) => bytes.startsWith('CANCEL') && to.host === '127.0.41.2');
    expect(cancel).toBeDefined();
  });

  test('who comes by the trunk and shows an extension is nobody; other numbers stay as they are', async () => {
    const caller = kept(await openPhone({ address: '127.0.41.3', clock, manner: () => null }));
    const cameFrom = async (from: string | null) => {
      const placed = await placeCall({
        phone: caller,
        clock,
        account: TRUNK,
        server: server(),
        from,
        to: TO_INES,
        patienceMs: 200,
      });
      await placed.over;
      const began = events.filter((event) => event.kind === 'call-began');
      return began.at(-1)?.call.from;
    };
    const { extension } = index.people.get('ines')!.lines[0]!;
    expect(await cameFrom(extension)).toBeNull();
    expect(await cameFrom('+16045550199')).toBe('+16045550199');
    expect(await cameFrom('911')).toBe('911');
    expect(await cameFrom(null)).toBeNull();
  });

  test('sound that goes nowhere is heard one way only', async () => {
    await desk({ answerAfterMs: 500 }, undefined, [], true);
    expect((await call()).heard).toEqual([]);
    expect(sound()[0]!.fromCaller).toBe(5);
  });

  test('two devices on one account ring together; the first to answer has the call and the other is told to stop', async () => {
    await desk({ answerAfterMs: 60_000 }, '127.0.41.11');
    await desk({ answerAfterMs: 2000 }, '127.0.41.12');
    expect(system.bindings('ines-desk')).toHaveLength(2);
    expect((await call()).status).toBe(200);
    expect(methodsTo('127.0.41.11')).toEqual(['INVITE', 'CANCEL', 'ACK']);
    expect(methodsTo('127.0.41.12')).toEqual(['INVITE', 'ACK', 'BYE']);
  });

  test('a phone that signed off is not rung', async () => {
    const phone = await desk({ answerAfterMs: 500 });
    await phone.unregister();
    mobile = { answerAfterMs: 500 };
    expect((await call()).heard[0]).toMatch(/^hello from \+/);
    expect(settled()[0]!.legs[0]).toMatchObject({ endpoint: 'ines-desk', end: 'unregistered' });
  });

  test('the voicemail of a mobile that is off gives itself away, and the guard keeps it out', async () => {
    // Far from the end of the guard: a machine that is held up for a moment changes nothing.
    mobile = { state: 'off', offAnswerMs: 200 };
    await desk({});
    await call();
    const [trace] = settled();
    expect(trace!.outcome).toMatchObject({ kind: 'mailbox', person: 'ines' });
    expect(trace!.legs.find(({ endpoint }) => endpoint === 'ines-mobile')).toMatchObject({
      end: 'before-guard',
      alertMs: null,
    });
    expect(methodsTo('127.0.41.2')).toEqual(['INVITE', 'ACK', 'BYE']);
  });

  test('a caller who gives up ends every leg and gets 487', async () => {
    await desk({});
    expect((await call({ patienceMs: 2000 })).status).toBe(487);
    expect(settled()[0]!.outcome.kind).toBe('abandoned');
    expect(methodsTo('127.0.41.10').slice(0, 2)).toEqual(['INVITE', 'CANCEL']);
    expect(system.callsInProgress()).toBe(0);
  });

  test('who is hung up on while connected is told, whichever side it is', async () => {
    const phone = await desk({ answerAfterMs: 200 });
    const caller = kept(await openPhone({ address: '127.0.41.3', clock, manner: () => null }));
    const placed = await placeCall({
      phone: caller,
      clock,
      account: TRUNK,
      server: server(),
      from: null,
      to: TO_INES,
      talkMs: 60_000,
    });
    await until(() => settled().length > 0);
    await phone.close();
    expect((await placed.over).status).toBe(200);
    expect(events.find((event) => event.kind === 'call-began')).toMatchObject({ call: { from: null } });
    expect(system.callsInProgress()).toBe(0);
  });

  test.each([
    ['a wrong password', { password: 'wrong' }, 403],
    ['a number that nobody has', { to: '+19995550000' }, 404],
  ])('%s is refused with %s', async (_, more, status) => {
    expect((await call(more)).status).toBe(status);
  });
});

describe('what arrives from a network', () => {
  test('OPTIONS is answered to the port it came from with rport, and to the port of its Via without', async () => {
    const wire = kept(await udpWire(server()));
    const other = kept(await udpWire(server()));
    wire.send(OPTIONS('o1'));
    const answer = await wire.answer();
    expect(answer.status).toBe(200);
    expect(answer.via.params).toMatchObject({ rport: String(wire.port), received: '127.0.40.1' });
    wire.send(OPTIONS('o2', { via: `SIP/2.0/UDP 127.0.40.1:${other.port};branch=z9hG4bKo2` }));
    expect((await other.answer()).callId).toBe('o2');
    expect(wire.got).toHaveLength(1);
  });

  test.each([
    ['INVITE without credentials', 'INVITE', {}, 401],
    ['INVITE that was passed on too often', 'INVITE', { headers: [['Max-Forwards', '0']] as const }, 400],
    ['a method that is not served', 'SUBSCRIBE', {}, 501],
    ['something required that is not known', 'OPTIONS', { headers: [['Require', 'teleport']] as const }, 420],
    ['BYE of no call', 'BYE', {}, 481],
    ['CANCEL of no call', 'CANCEL', {}, 481],
  ])('%s', async (_, method, more, status) => {
    const wire = kept(await udpWire(server()));
    const bytes = ask(method, `sip:${TO_INES}@127.0.41.1`, { callId: 'm1', ...more });
    // Two different Max-Forwards make no message at all; one of 0 stands in the place of the other.
    wire.send(status === 400 ? bytes.replace('Max-Forwards: 70\r\n', '') : bytes);
    const answer = await wire.answer();
    expect(answer.status).toBe(status === 400 ? 483 : status);
    if (status === 420) expect(header(answer, 'Unsupported')).toBe('teleport');
  });

  test('a call that has been here before goes round, and is refused', async () => {
    const wire = kept(await udpWire(server()));
    const { host, port } = server();
    const bytes = ask('INVITE', `sip:${TO_INES}@${host}`, { callId: 'loop' });
    wire.send(
      bytes.replace('Max-Forwards', `Via: SIP/2.0/UDP ${host}:${port};branch=z9hG4bKold\r\nMax-Forwards`),
    );
    expect((await wire.answer()).status).toBe(482);
  });

  test('an INVITE that comes again gets the answer again, and makes no second call', async () => {
    const wire = kept(await udpWire(server()));
    const bytes = ask('INVITE', `sip:${TO_INES}@127.0.41.1`, { callId: 'twice' });
    wire.send(bytes);
    const first = await wire.answer();
    wire.send(bytes);
    const second = await wire.answer();
    expect(headersOf(second, 'WWW-Authenticate')).toEqual(headersOf(first, 'WWW-Authenticate'));
  });

  test('a stream is understood a byte at a time, and closed where it makes no sense', async () => {
    const wire = kept(await tcpWire(system.node.transport.local.tcp));
    for (const byte of OPTIONS('slow', { via: 'SIP/2.0/TCP 127.0.40.1:9;branch=z9hG4bKslow' }))
      wire.send(byte);
    expect((await wire.answer()).callId).toBe('slow');
    wire.send('INVITE sip:a@b SIP/2.0\r\nVia: SIP/2.0/TCP h\r\n\r\n');
    await wire.closed;
    expect(log.at(-1)).toContain('Content-Length is needed on a stream');
  });

  test('whatever is sent, the system answers the next question and keeps nothing of it', async () => {
    const wire = kept(await udpWire(server()));
    const good = ask('INVITE', 'sip:a@127.0.41.1', { callId: 'fuzz' });
    let n = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.oneof(
          fc
            .uint8Array({ minLength: 5, maxLength: 600 })
            .map((bytes) => Buffer.from(bytes).toString('latin1')),
          fc
            .tuple(fc.nat(good.length), fc.string({ maxLength: 30 }), fc.nat(40))
            .map(([at, put, cut]) => good.slice(0, at) + put + good.slice(at + cut)),
        ),
        async (bytes) => {
          n += 1;
          wire.send(bytes);
          wire.send(OPTIONS(`after-${n}`));
          for (;;) {
            const parsed = parseSip(await wire.next());
            if (parsed.ok && parsed.message.callId === `after-${n}`) return;
          }
        },
      ),
      { numRuns: 300 },
    );
    expect(system.callsInProgress()).toBe(0);
    expect(system.allBindings()).toEqual([]);
  });

  test('what is kept of requests is bounded, however many come', async () => {
    const small = kept(
      await openSystem({
        address: '127.0.41.7',
        port: 0,
        transports: ['udp'],
        estate: () => index,
        account: () => null,
        userOf: (id) => id,
        carrier: null,
        clock,
        at: () => AT,
        mostTransactions: 50,
      }),
    );
    const wire = kept(await udpWire(small.node.transport.local.udp));
    for (let i = 0; i < 400; i += 1) {
      wire.send(OPTIONS(`many-${i}`));
      await wire.next();
    }
    expect(small.node.transactions()).toBeLessThanOrEqual(50);
  });
});

test('a stand-in never listens on an address that others can reach', async () => {
  await expect(openPhone({ address: '0.0.0.0', clock, manner: () => null })).rejects.toThrow(/loopback only/);
});
