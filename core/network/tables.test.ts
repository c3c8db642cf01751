import { readNetwork, topologyOf, verdictsOf, type Hop } from '.';

const network = (box: object, phone: object = {}) => {
  const read = readNetwork({
    format: 'hostler-network/1',
    name: 'home',
    boxes: [
      { id: 'home', name: 'Router', in: 'internet', inside: '192.168.1.1', outside: '203.0.113.1', ...box },
    ],
    servers: [
      {
        ...{ id: 'system', name: 'System', kind: 'system', in: 'internet', address: '198.51.100.1' },
        ...{ answersToSource: true, contactFromSource: true, latches: true },
      },
    ],
    phones: [{ id: 'phone', name: 'Phone', in: 'home', address: '192.168.1.10', ...phone }],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  return read.network;
};
const answers = (box: object, phone: object = {}, tables = true) => {
  const topology = topologyOf(network(box, phone), tables);
  return verdictsOf(topology, topology.network.phones[0]!);
};
const atRouter = (trace: readonly Hop[]) => trace.find(({ where }) => where === 'home')?.table;

test('a mapping is made by the first packet, is young while it is used, and stays in the table once it ran out', () => {
  const { registers, ringsAfter } = answers({ udpTimeoutS: 60 });
  const mapping = { protocol: 'udp', inside: '192.168.1.10:5060', port: 5060, isOpen: false };
  const towards = (leftS: number) => [{ socket: '198.51.100.1:5060', leftS }];
  expect(atRouter(registers.trace)).toEqual([{ ...mapping, leftS: 60, towards: towards(60) }]);
  // An INVITE after 30 s uses it again; after 180 s it is too late.
  expect(atRouter(ringsAfter['30'].trace)).toEqual([{ ...mapping, leftS: 60, towards: towards(60) }]);
  expect(atRouter(ringsAfter['180'].trace)).toEqual([{ ...mapping, leftS: -120, towards: towards(-120) }]);
});

test('what lets in whom is told as the box filters', () => {
  const [byAddress] = atRouter(answers({ filtering: 'address-dependent' }).registers.trace) ?? [];
  expect(byAddress?.towards).toEqual([{ socket: '198.51.100.1', leftS: 60 }]);
  const [anybody] = atRouter(answers({ filtering: 'endpoint-independent' }).registers.trace) ?? [];
  expect(anybody?.isOpen).toBe(true);
  const [state] =
    atRouter(answers({ nat: false, inside: '198.18.1.1' }, { address: '198.18.1.10' }).registers.trace) ?? [];
  expect([state?.port, state?.inside]).toEqual([null, '198.18.1.10:5060']);
});

test('a second socket is a second line; nothing is told where it is not asked for, and the answers are the same', () => {
  const told = answers({});
  const table = atRouter(told.soundOut.trace) ?? [];
  expect(table.map(({ inside }) => inside)).toEqual(['192.168.1.10:5060', '192.168.1.10:16384']);
  const bare = answers({}, {}, false);
  expect(JSON.stringify(bare)).not.toContain('"table"');
  const without = JSON.parse(
    JSON.stringify(told, (key, value: unknown) => (key === 'table' ? undefined : value)),
  ) as object;
  expect(without).toEqual(JSON.parse(JSON.stringify(bare)));
});
