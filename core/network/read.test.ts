import { readNetwork } from '.';
import { MOST_BOXES, MOST_PHONES, NETWORK_FORMAT } from './index';

const home = { id: 'home', name: 'Home', in: 'internet', inside: '192.168.1.1', outside: '203.0.113.7' };
const pbx = { id: 'pbx', name: 'System', kind: 'system', in: 'internet', address: '198.51.100.10' };
const ann = { id: 'ann', name: 'Ann', in: 'home', address: '192.168.1.20' };
const file = (more: Record<string, unknown> = {}) => ({
  format: NETWORK_FORMAT,
  name: 'A network',
  boxes: [home],
  servers: [pbx],
  phones: [ann],
  ...more,
});
const faults = (value: unknown) => {
  const read = readNetwork(value);
  return read.ok ? [] : read.faults.map(({ path, message }) => `${path}: ${message}`);
};

test('what is left out has its value; a port of the phone is that of its written address too', () => {
  const read = readNetwork(
    file({ phones: [{ ...ann, signalPort: 5070, manual: { address: '203.0.113.7', rtpPort: 20000 } }] }),
  );
  if (!read.ok) throw new Error('not read');
  const [box] = read.network.boxes;
  expect(box).toMatchObject({
    nat: true,
    udpTimeoutS: 60,
    tcpTimeoutS: 7440,
    sharesPorts: false,
    blocked: [],
  });
  expect(read.network.servers[0]).toMatchObject({ public: '198.51.100.10', tlsPort: 5061, latches: false });
  expect(read.network.phones[0]?.manual).toEqual({
    address: '203.0.113.7',
    signalPort: 5070,
    rtpPort: 20000,
  });
  const border = readNetwork(file({ servers: [{ ...pbx, kind: 'border-controller', latches: false }] }));
  expect(border.ok && border.network.servers[0]).toMatchObject({ answersToSource: true, latches: false });
});

test.each([
  ['an unknown field', { boxes: [{ ...home, colour: 'red' }] }, /^boxes\[0\]\.colour: is not a known field/],
  [
    'no address',
    { phones: [{ ...ann, address: '192.168.1.256' }] },
    /^phones\[0\]\.address: must be an IPv4/,
  ],
  [
    'a box that is not there',
    { phones: [{ ...ann, in: 'cellar' }] },
    /^phones\[0\]\.in: there is no box “cellar”/,
  ],
  [
    'boxes that go round',
    {
      boxes: [
        { ...home, in: 'b' },
        { ...home, id: 'b', in: 'home' },
      ],
    },
    /^boxes\[0\]\.in: goes round/,
  ],
  ['a box in itself', { boxes: [{ ...home, in: 'home' }] }, /^boxes\[0\]\.in: goes round/],
  [
    'one address twice in a network',
    { phones: [ann, { ...ann, id: 'bob' }] },
    /^phones\[1\]\.address: 192\.168\.1\.20 is that of phones\[0\]\.address in the same network/,
  ],
  [
    'the address of the router',
    { phones: [{ ...ann, address: '192.168.1.1' }] },
    /^phones\[0\]\.address: 192\.168\.1\.1 is that of boxes\[0\]\.inside/,
  ],
  ['one id twice', { phones: [{ ...ann, id: 'pbx' }] }, /^phones\[0\]\.id: “pbx” is servers\[0\] already/],
  [
    'the name of the internet',
    { phones: [{ ...ann, id: 'internet' }] },
    /^phones\[0\]\.id: “internet” is the internet/,
  ],
  [
    'two systems',
    { servers: [pbx, { ...pbx, id: 'b', address: '198.51.100.11' }] },
    /^servers\[1\]\.kind: there is a system already/,
  ],
  [
    'a relay that is not there',
    { phones: [{ ...ann, relay: 'bob' }] },
    /^phones\[0\]\.relay: there is no phone/,
  ],
  ['itself as relay', { phones: [{ ...ann, relay: 'ann' }] }, /^phones\[0\]\.relay: must be another phone/],
  [
    'ports the wrong way round',
    { boxes: [{ ...home, blocked: ['udp:20-10'] }] },
    /^boxes\[0\]\.blocked\[0\]: must be/,
  ],
  [
    'a port beyond the last',
    { boxes: [{ ...home, forwards: [{ proto: 'udp', ports: '70000', to: '192.168.1.2' }] }] },
    /^boxes\[0\]\.forwards\[0\]\.ports: must be a port/,
  ],
  ['10,000 boxes', { boxes: Array.from({ length: 10_000 }, () => home) }, /^boxes: must be 1000 or fewer$/],
  [
    'too many phones',
    { phones: Array.from({ length: MOST_PHONES + 1 }, () => ann) },
    /^phones: must be 10000 or fewer$/,
  ],
])('refuses %s, with its path', (_name, more, fault) => {
  expect(faults(file(more)).some((each) => fault.test(each))).toBe(true);
});

test('the same private address may stand in several networks, and null is as left out', () => {
  expect(
    faults(
      file({
        boxes: [home, { ...home, id: 'cafe', outside: '203.0.113.8', udpStreamTimeoutS: null }],
        phones: [ann, { ...ann, id: 'bob', in: 'cafe', keepAliveS: null, manual: null, relay: null }],
      }),
    ),
  ).toEqual([]);
});

test('as many boxes in a row as there may be are read', () => {
  const boxes = Array.from({ length: MOST_BOXES }, (_, at) => ({
    ...home,
    id: `b${at}`,
    in: at === 0 ? 'internet' : `b${at - 1}`,
    inside: `10.${at >> 8}.${at & 255}.1`,
    outside: at === 0 ? '203.0.113.7' : `10.${(at - 1) >> 8}.${(at - 1) & 255}.2`,
  }));
  expect(
    faults(file({ boxes, phones: [{ ...ann, in: `b${MOST_BOXES - 1}`, address: '10.3.231.9' }] })),
  ).toEqual([]);
});
