import { createSocket, type Socket as UdpSocket } from 'node:dgram';
import { readNetwork, type LostPacket } from '../../core/network';
import { openDatagrams } from '../media/socket';
import { openHouse, staged, type House } from '.';
import { until } from '../tests/until';

const BLOCK = '127.121.7';
const SYSTEM = `${BLOCK}.1`;

function network(box: object = {}) {
  const read = readNetwork({
    format: 'hostler-network/1',
    name: 'A home',
    boxes: [
      { id: 'home', name: 'Home', in: 'internet', inside: '192.168.1.1', outside: '203.0.113.7', ...box },
    ],
    servers: [{ id: 'pbx', name: 'System', kind: 'system', in: 'internet', address: '198.51.100.10' }],
    phones: [
      { id: 'ann', name: 'Ann', in: 'home', address: '192.168.1.20' },
      { id: 'bob', name: 'Bob', in: 'home', address: '192.168.1.21' },
    ],
  });
  if (!read.ok) throw new Error('no network');
  let last = 0;
  // The box comes first, then the system.
  return staged(read.network, () => `${BLOCK}.${last++ === 0 ? 2 : 1}`);
}

const closing: (() => unknown)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});
interface Got {
  readonly text: string;
  readonly from: string;
}
/** What comes to a socket, one after the other. */
function heardBy(socket: Pick<UdpSocket, 'on'>) {
  const got: Got[] = [];
  let wake: () => void = () => undefined;
  socket.on('message', (data: Buffer, { address, port }: { address: string; port: number }) => {
    got.push({ text: data.toString('latin1'), from: `${address}:${port}` });
    wake();
  });
  return async (): Promise<Got> => {
    while (got.length === 0) await new Promise<void>((resolve) => (wake = resolve));
    return got.shift()!;
  };
}
async function systemAt() {
  const socket = createSocket('udp4');
  await new Promise<void>((resolve) => socket.bind(0, SYSTEM, resolve));
  closing.push(() => new Promise<void>((done) => socket.close(() => done())));
  return { socket, port: socket.address().port, next: heardBy(socket) };
}
async function home(box: object = {}) {
  let seconds = 0;
  const lost: LostPacket[] = [];
  const { network: around, meantBy } = network(box);
  const house: House = await openHouse({
    network: around,
    seconds: () => seconds,
    onLost: (each) => lost.push(each),
  });
  closing.push(house.close);
  return { house, lost, meantBy, at: (time: number) => (seconds = time) };
}

test('a packet goes out by the router, its answer comes home; once the router has forgotten, none does', async () => {
  const { house, lost, at, meantBy } = await home();
  const system = await systemAt();
  const phone = await openDatagrams(house.ground('ann'), '192.168.1.20', 5060);
  const next = heardBy(phone as unknown as UdpSocket);
  phone.send('hello', system.port, SYSTEM);
  const came = await system.next();
  expect(came).toEqual({ text: 'hello', from: `${BLOCK}.2:5060` });
  expect(meantBy(`${BLOCK}.2`)).toBe('203.0.113.7');
  system.socket.send('back', 5060, `${BLOCK}.2`);
  expect(await next()).toEqual({ text: 'back', from: `${SYSTEM}:${system.port}` });
  at(60);
  system.socket.send('late', 5060, `${BLOCK}.2`);
  await until(() => lost.length > 0);
  expect(lost).toMatchObject([{ reason: 'no-mapping', at: 'home', protocol: 'udp' }]);
});

test('who is not answered is not let in, but for what a forward leads to', async () => {
  const { house, lost } = await home({ forwards: [{ proto: 'udp', ports: '7000', to: '192.168.1.21' }] });
  const system = await systemAt();
  const stranger = await systemAt();
  const ann = await openDatagrams(house.ground('ann'), '192.168.1.20', 5060);
  ann.send('hello', system.port, SYSTEM);
  await system.next();
  stranger.socket.send('let me in', 5060, `${BLOCK}.2`);
  await until(() => lost.length > 0);
  expect(lost[0]).toMatchObject({ reason: 'filtered', from: { port: stranger.port } });
  const bob = await openDatagrams(house.ground('bob'), '192.168.1.21', 7000);
  const atBob = heardBy(bob as unknown as UdpSocket);
  bob.send('here I am', system.port, SYSTEM);
  expect((await system.next()).from).toBe(`${BLOCK}.2:7000`);
  stranger.socket.send('by the forward', 7000, `${BLOCK}.2`);
  expect((await atBob()).text).toBe('by the forward');
});

test('what is blocked is known at once to be lost; two phones inside reach each other without the router', async () => {
  const { house, lost } = await home({ blocked: ['udp'] });
  const ann = await openDatagrams(house.ground('ann'), '192.168.1.20', 5060);
  const bob = await openDatagrams(house.ground('bob'), '192.168.1.21', 5060);
  const atBob = heardBy(bob as unknown as UdpSocket);
  const failed = await new Promise<Error | null | undefined>((resolve) =>
    ann.send('hello', 5060, SYSTEM, resolve),
  );
  expect(failed).toBeInstanceOf(Error);
  expect(lost).toMatchObject([{ reason: 'blocked', at: 'home' }]);
  ann.send('over here', 5060, '192.168.1.21');
  expect(await atBob()).toEqual({ text: 'over here', from: '192.168.1.20:5060' });
});

test('sockets of sound that has ended are closed, those of signalling stay, and ports come round again', async () => {
  const { house, at } = await home({ portPreserving: false });
  const system = await systemAt();
  const ann = await openDatagrams(house.ground('ann'), '192.168.1.20', 5060);
  ann.send('REGISTER sip:x SIP/2.0\r\n\r\n', system.port, SYSTEM);
  const signalling = Number((await system.next()).from.split(':')[1]);
  const sound = await openDatagrams(house.ground('ann'), '192.168.1.20', 7000);
  sound.send('sound', system.port, SYSTEM);
  const port = Number((await system.next()).from.split(':')[1]);
  const isFree = (own: number) =>
    new Promise<boolean>((resolve) => {
      const probe = createSocket('udp4');
      probe.once('error', () => probe.close(() => resolve(false)));
      probe.bind(own, `${BLOCK}.2`, () => probe.close(() => resolve(true)));
    });
  expect([await isFree(signalling), await isFree(port)]).toEqual([false, false]);
  at(1000);
  // Whatever goes out next has the house tidied.
  const other = await openDatagrams(house.ground('bob'), '192.168.1.21', 8000);
  other.send('more', system.port, SYSTEM);
  await system.next();
  expect([await isFree(signalling), await isFree(port)]).toEqual([false, true]);
  // The first port of the router again, for nothing remembers it.
  sound.send('again', system.port, SYSTEM);
  expect((await system.next()).from).toBe(`${BLOCK}.2:${signalling}`);
});

test('a phone that is not in the network stands nowhere', async () => {
  const { house } = await home();
  expect(() => house.ground('cleo')).toThrow('there is no phone cleo');
});
