import { learnedOf, NETWORK_KINDS, readNetwork, NETWORK_FORMAT, type LineTold } from '.';

const told: LineTold = { by: 'udp', mapping: 'same', outside: '203.0.113.7' };
const [home] = NETWORK_KINDS;
const router = home?.boxes[0];
if (!router) throw new Error('no kind to start from');
const mobile = NETWORK_KINDS.find(({ id }) => id === 'mobile')!.boxes;

test('a check that shows what is described anyhow offers nothing, nor does one that reached nobody', () => {
  expect(learnedOf([router], told)).toBeNull();
  expect(learnedOf([router], { by: null, mapping: null, outside: null })).toBeNull();
  expect(learnedOf([{ ...router, nat: false }], { ...told, outside: '203.0.113.9' })).toBeNull();
});

test('what is other is said, and written into the box that has it', () => {
  const learned = learnedOf([router], { by: 'tcp', mapping: 'by-port', outside: '203.0.113.9' });
  expect(learned?.boxes).toEqual([
    { ...router, outside: '203.0.113.9', mapping: 'address-and-port-dependent', blocked: ['udp'] },
  ]);
  expect(learned?.says).toEqual([
    '“Home router” has the outside address 203.0.113.9',
    '“Home router” has another outside port for each destination',
    '“Home router” blocks UDP',
  ]);
  // Once it is written there is nothing more to say.
  expect(learnedOf(learned!.boxes, { by: 'tcp', mapping: 'by-port', outside: '203.0.113.9' })).toBeNull();
});

test('UDP that passes is no longer blocked anywhere, other rules stay', () => {
  const [provider, hotspot] = mobile;
  const closed = [
    { ...provider!, blocked: ['udp', 'tcp:25'] },
    { ...hotspot!, blocked: ['udp'] },
  ];
  const learned = learnedOf(closed, { ...told, outside: provider!.outside });
  expect(learned?.boxes.map(({ blocked }) => blocked)).toEqual([['tcp:25'], []]);
  expect(learned?.says).toEqual(['“Provider NAT” lets UDP pass', '“Hotspot” lets UDP pass']);
});

test('of two boxes with NAT it is not told which one maps so', () => {
  expect(learnedOf(mobile, { by: 'udp', mapping: 'by-address', outside: mobile[0]!.outside })).toBeNull();
});

test('a site of which nothing is known begins with one router, and is a network that can be read', () => {
  const learned = learnedOf([], { ...told, mapping: 'by-address', outside: '203.0.113.40' });
  expect(learned?.says[0]).toBe('There is one router with NAT: “Home router”');
  expect(learned?.boxes).toMatchObject([{ outside: '203.0.113.40', mapping: 'address-dependent' }]);
  const file = { format: NETWORK_FORMAT, name: 'Home', boxes: learned?.boxes, servers: [], phones: [] };
  expect(readNetwork(file).ok).toBe(true);
});
