import { parseSdp, writeSdp, type Sound } from '../../core/wire/sip';
import { buildStun, text } from '../../core/wire/stun';
import { MACHINE } from '../sip/ground';
import { overIce } from './ice';
import { baseOf, openDatagrams, type SoundSocket } from './socket';

const HERE = '127.0.48.1';
const THERE = '127.0.48.2';
/** Nobody is there. */
const NOWHERE = { address: '127.0.48.9', port: 9 };

const closing: (() => void)[] = [];
afterEach(() => {
  for (const close of closing.splice(0)) close();
});

/** One end of a call; its best candidate leads nowhere where it is behind something. */
async function end(address: string, isControlling: boolean, isBehind = false) {
  const socket = await openDatagrams(MACHINE, address);
  const own = { address, port: socket.address().port };
  const base = baseOf(socket, MACHINE);
  const ice: SoundSocket = overIce({
    port: own.port,
    written: own,
    isControlling,
    candidates: isBehind
      ? [
          { type: 'host', socket: NOWHERE, base },
          { type: 'srflx', socket: own, base },
        ]
      : [{ type: 'host', socket: own, base }],
    close: () => socket.close(),
  });
  closing.push(ice.close);
  const heard = new Promise<string>((resolve) => ice.hear((bytes) => resolve(bytes.toString('latin1'))));
  return { ice, own, socket, heard };
}
const soundOf = ({ written, ice }: SoundSocket): Sound =>
  parseSdp(writeSdp({ ...written, codecs: [0], eventType: null, ...(ice ? { ice } : {}) }, 1))!;
const bytes = (say: string) => Buffer.from(say, 'latin1');

test.each([false, true])(
  'sound goes both ways once a pair was found (behind something: %s)',
  async (isBehind) => {
    const phone = await end(HERE, true, isBehind);
    const server = await end(THERE, false);
    // What is said before is said once a way is there.
    phone.ice.send(bytes('from the phone'), NOWHERE);
    server.ice.send(bytes('from the server'), NOWHERE);
    server.ice.aim(soundOf(phone.ice));
    phone.ice.aim(soundOf(server.ice));
    expect(await server.heard).toBe('from the phone');
    expect(await phone.heard).toBe('from the server');
  },
);

test('who does not know what was told in the call is not answered, and gets no sound', async () => {
  const phone = await end(HERE, true);
  const server = await end(THERE, false);
  const stranger = await openDatagrams(MACHINE, '127.0.48.3');
  closing.push(() => stranger.close());
  const got: Buffer[] = [];
  stranger.on('message', (data) => got.push(data));
  const check = buildStun({
    method: 'binding',
    kind: 'request',
    transaction: Buffer.alloc(12, 7),
    attributes: [
      ['username', text(`${server.ice.ice?.ufrag}:abcd`)],
      ['useCandidate', new Uint8Array(0)],
    ],
  });
  server.ice.aim(soundOf(phone.ice));
  stranger.send(check, server.own.port, THERE);
  phone.ice.aim(soundOf(server.ice));
  server.ice.send(bytes('for the phone'), NOWHERE);
  expect(await phone.heard).toBe('for the phone');
  expect(got).toEqual([]);
});

test('a far end without ICE hears where it says that it does', async () => {
  const phone = await end(HERE, true);
  const plain = await openDatagrams(MACHINE, THERE);
  closing.push(() => plain.close());
  const heard = new Promise<string>((resolve) =>
    plain.on('message', (data) => resolve(data.toString('latin1'))),
  );
  phone.ice.send(bytes('hello'), NOWHERE);
  phone.ice.aim({ address: THERE, port: plain.address().port, codecs: [0], eventType: null });
  expect(await heard).toBe('hello');
});
