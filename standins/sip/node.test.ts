import { header, type SipResponse } from '../../core/wire/sip';
import { ask, udpWire, type Wire } from '../tests/wire';
import { clockAt } from './clock';
import { inDialog, outsideDialog, peerOf } from './dialog';
import { openNode, type Asked, type SipNode } from './node';
import { newToken } from './token';

const opened: { readonly close: () => unknown }[] = [];
const kept = <T extends { readonly close: () => unknown }>(each: T): T => {
  opened.push(each);
  return each;
};
afterEach(async () => {
  await Promise.all(opened.splice(0).map(async (each) => void (await each.close())));
});

const clock = clockAt();
const node = async (onRequest: (asked: Asked) => void = () => undefined): Promise<SipNode> =>
  kept(await openNode({ address: '127.0.44.1', port: 0, transports: ['udp'], now: clock.now, onRequest }));
const wireTo = async (to: SipNode): Promise<Wire> =>
  kept(await udpWire(to.transport.local.udp, '127.0.44.2'));

/** A node that has sent a request to a wire, which answers as the test wants. */
async function sending(method: string) {
  const from = await node();
  const wire = await wireTo(from);
  const answers: number[] = [];
  let tell: () => void = () => undefined;
  const sent = from.request(
    { method, uri: 'sip:a@127.0.44.2', headers: outsideDialog(method, '<sip:me@h>', '<sip:a@127.0.44.2>') },
    { transport: 'udp', host: '127.0.44.2', port: wire.port },
    (answer: SipResponse) => {
      answers.push(answer.status);
      tell();
    },
  );
  const request = await wire.next();
  const reply = (status: string) =>
    wire.send(
      request
        .replace(/^[^\r]+/, `SIP/2.0 ${status}`)
        .replace(/^To: (.*)$/m, 'To: $1;tag=there')
        .replace(/^Max-Forwards.*\r\n/m, ''),
    );
  const answered = () => new Promise<void>((resolve) => (tell = resolve));
  return { sent, wire, request, reply, answers, answered };
}

test('a request without an answer is sent again, the same to the letter, until one comes', async () => {
  const { wire, request, reply, answers, answered } = await sending('OPTIONS');
  expect(await wire.next()).toBe(request);
  expect(await wire.next()).toBe(request);
  const told = answered();
  reply('200 OK');
  await told;
  reply('200 OK');
  expect(answers).toEqual([200]);
});

test('an INVITE that is refused is acknowledged, again for each time the answer comes, and told once', async () => {
  const { wire, reply, answers, request } = await sending('INVITE');
  reply('486 Busy Here');
  const ack = await wire.next();
  expect(ack).toMatch(/^ACK sip:a@127\.0\.44\.2 SIP/);
  const branch = /branch=([^;]+)/.exec(request)![1]!;
  expect(ack).toContain(branch);
  reply('486 Busy Here');
  expect(await wire.next()).toBe(ack);
  expect(answers).toEqual([486]);
});

test('an INVITE is cancelled only once something has been heard of it', async () => {
  const { sent, wire, request, reply } = await sending('INVITE');
  sent.cancel();
  expect(wire.got).toEqual([request]);
  reply('180 Ringing');
  expect(await wire.next()).toMatch(/^CANCEL /);
});

test('an answer to an INVITE is sent again until it is acknowledged', async () => {
  let asked: Asked | null = null;
  const to = await node((each) => {
    asked = each;
    each.respond(200);
  });
  const wire = await wireTo(to);
  const acknowledged = new Promise<void>((resolve) => {
    wire.send(
      ask('INVITE', 'sip:a@127.0.44.1', {
        callId: 'again',
        via: `SIP/2.0/UDP 127.0.44.2:${wire.port};branch=z9hG4bKq;rport`,
      }),
    );
    void wire.next().then(async (first) => {
      expect(await wire.next()).toBe(first);
      asked!.onAck = () => resolve();
      const to200 = /^To: (.*)$/m.exec(first)![1]!.trim();
      wire.send(ask('ACK', 'sip:a@127.0.44.1', { callId: 'again', to: to200, branch: 'z9hG4bKnew' }));
    });
  });
  await acknowledged;
  expect(header(asked!.request, 'Call-ID')).toBe('again');
});

test('a CANCEL reaches its INVITE, and is answered itself', async () => {
  let cancelled = 0;
  const to = await node((each) => {
    each.respond(180);
    each.onCancel = () => {
      cancelled += 1;
      each.respond(487);
    };
  });
  const wire = await wireTo(to);
  const via = `SIP/2.0/UDP 127.0.44.2:${wire.port};branch=z9hG4bKc;rport`;
  wire.send(ask('INVITE', 'sip:a@127.0.44.1', { callId: 'cancel', via }));
  expect((await wire.answer()).status).toBe(180);
  wire.send(ask('CANCEL', 'sip:a@127.0.44.1', { callId: 'cancel', via }));
  const statuses = [(await wire.answer()).status, (await wire.answer()).status];
  expect(statuses.sort()).toEqual([200, 487]);
  expect(cancelled).toBe(1);
});

test('tokens are many and all different', () => {
  const made = new Set(Array.from({ length: 3000 }, () => newToken(6)));
  expect(made.size).toBe(3000);
  for (const each of made) expect(each).toMatch(/^[0-9a-f]{12}$/);
});

test('requests in a dialog count up, an ACK keeps the number of its INVITE, and a contact elsewhere is not followed', () => {
  const dialog = {
    callId: 'c',
    local: '<sip:me@h>;tag=1',
    remote: '<sip:you@h>;tag=2',
    target: 'sip:you@127.0.0.9:5070',
    routes: ['<sip:proxy@127.0.0.8;lr>'],
    to: { transport: 'udp', host: '127.0.0.9', port: 5070 } as const,
    from: { transport: 'udp', host: '127.0.0.9', port: 5070 } as const,
    seq: 4,
  };
  expect(inDialog(dialog, 'ACK', [], 4).headers).toContainEqual(['CSeq', '4 ACK']);
  expect(inDialog(dialog, 'BYE').headers).toContainEqual(['CSeq', '5 BYE']);
  expect(inDialog(dialog, 'INFO').headers).toEqual(
    expect.arrayContaining([
      ['CSeq', '6 INFO'],
      ['Route', '<sip:proxy@127.0.0.8;lr>'],
    ]),
  );
  const from = { transport: 'udp', host: '127.0.0.5', port: 1 } as const;
  expect(peerOf('sip:a@127.0.0.7:5999', from)).toEqual({ transport: 'udp', host: '127.0.0.7', port: 5999 });
  expect(peerOf('sip:a@192.0.2.1', from)).toBe(from);
});

test('what is sent last before a node closes still goes out, in its order', async () => {
  const closing = await node();
  const wire = await wireTo(closing);
  const to = { transport: 'udp', host: '127.0.44.2', port: wire.port } as const;
  const sent = Array.from({ length: 40 }, (_, i) => `MESSAGE ${i}`);
  for (const each of sent) closing.transport.send(each, to);
  await closing.close();
  closing.transport.send('too late', to);
  for (const each of sent) expect(await wire.next()).toBe(each);
  expect(wire.got).toHaveLength(sent.length);
});

test('an INVITE that is cancelled twice is so once, for the second would leave the first with nobody to stop it', async () => {
  const carried: string[] = [];
  const from = kept(
    await openNode({
      address: '127.0.44.1',
      port: 0,
      transports: ['udp'],
      now: clock.now,
      onRequest: () => undefined,
      onCarried: ({ bytes }) => carried.push(bytes),
    }),
  );
  const wire = await wireTo(from);
  let tell: () => void = () => undefined;
  const rings = new Promise<void>((resolve) => (tell = resolve));
  const sent = from.request(
    {
      method: 'INVITE',
      uri: 'sip:a@127.0.44.2',
      headers: outsideDialog('INVITE', '<sip:me@h>', '<sip:a@127.0.44.2>'),
    },
    { transport: 'udp', host: '127.0.44.2', port: wire.port },
    () => tell(),
  );
  const request = await wire.next();
  wire.send(request.replace(/^[^\r]+/, 'SIP/2.0 180 Ringing').replace(/^To: (.*)$/m, 'To: $1;tag=there'));
  await rings;
  const cancels = () => carried.filter((each) => each.startsWith('CANCEL ')).length;
  sent.cancel();
  expect(cancels()).toBe(1);
  sent.cancel();
  expect(cancels()).toBe(1);
});
