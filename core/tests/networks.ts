import * as fc from 'fast-check';
import { NAT_BEHAVIOURS, NAT_METHODS, PATH_TRANSPORTS, SIP_ALGS } from '../estate';
import { NETWORK_FORMAT, readNetwork, type Network, type NetworkFile } from '../network';

const flag = fc.boolean();
const box = (id: string, at: string, inside: string, outside: string) =>
  fc.record({
    id: fc.constant(id),
    name: fc.constant(id),
    in: fc.constant(at),
    inside: fc.constant(inside),
    outside: fc.constant(outside),
    nat: fc.boolean().map((off) => !off || id === 'home'),
    mapping: fc.constantFrom(...NAT_BEHAVIOURS),
    filtering: fc.constantFrom(...NAT_BEHAVIOURS),
    portPreserving: flag,
    hairpin: flag,
    udpTimeoutS: fc.integer({ min: 5, max: 200 }),
    tcpTimeoutS: fc.integer({ min: 20, max: 4000 }),
    inboundRefreshes: flag,
    sharesPorts: flag,
    udpStreamTimeoutS: fc.option(fc.integer({ min: 5, max: 300 }), { nil: null }),
    sipHelper: fc.constantFrom(...SIP_ALGS),
    blocked: fc.constantFrom([], [], [], ['udp'], ['udp:10000-20000'], ['tcp:5061'], ['udp:5060']),
    forwards: fc.constantFrom(
      [],
      [],
      id === 'office'
        ? [
            { proto: 'udp' as const, ports: '5060', to: '10.0.0.10' },
            { proto: 'tcp' as const, ports: '5060-5061', to: '10.0.0.10' },
            { proto: 'udp' as const, ports: '10000', to: '10.0.0.10' },
          ]
        : [{ proto: 'udp' as const, ports: '5060', to: '192.168.1.20' }],
    ),
  });

const phone = (id: string, at: string, address: string) =>
  fc.record({
    id: fc.constant(id),
    name: fc.constant(id),
    in: fc.constant(at),
    address: fc.constant(address),
    transport: fc.constantFrom(...PATH_TRANSPORTS),
    rport: flag,
    symmetric: flag,
    keepAliveS: fc.option(fc.integer({ min: 1, max: 120 }), { nil: null }),
    registerExpiresS: fc.integer({ min: 2, max: 3600 }),
    method: fc.constantFrom(...NAT_METHODS),
    manual: fc.constantFrom(null, { address: '203.0.113.7' }),
    relay: fc.constantFrom(null, id === 'ann' ? 'bob' : 'ann'),
    turnTransport: fc.constantFrom(...PATH_TRANSPORTS),
  });

const server = (id: string, kind: string, at: string, address: string, known: string) =>
  fc
    .record({ knowsPublic: flag, ice: flag, answersToSource: flag, contactFromSource: flag, latches: flag })
    .map((settings) => ({ id, name: id, kind, in: at, address, public: known, ...settings }));

/** A home behind a provider or not, an office with the system or not, all servers, two phones. */
export const networks = fc
  .record({
    carrier: fc.option(box('carrier', 'internet', '100.64.0.1', '203.0.113.200'), { nil: null }),
    home: box('home', 'internet', '192.168.1.1', '203.0.113.7'),
    office: box('office', 'internet', '10.0.0.1', '198.51.100.2'),
    inOffice: flag,
    system: server('pbx', 'system', 'internet', '198.51.100.10', '198.51.100.10'),
    border: server('sbc', 'border-controller', 'internet', '198.51.100.40', '198.51.100.40'),
    stun: flag,
    ann: phone('ann', 'home', '192.168.1.20'),
    bob: phone('bob', 'home', '192.168.1.21'),
    bobAt: fc.constantFrom('home', 'internet'),
  })
  .map(({ carrier, home, office, inOffice, system, border, stun, ann, bob, bobAt }): Network => {
    const file = {
      format: NETWORK_FORMAT,
      name: 'Any',
      boxes: [...(carrier ? [carrier, { ...home, in: 'carrier', outside: '100.64.0.7' }] : [home]), office],
      servers: [
        inOffice ? { ...system, in: 'office', address: '10.0.0.10', public: '198.51.100.2' } : system,
        border,
        ...(stun
          ? [{ id: 'stun', name: 'stun', kind: 'stun', in: 'internet', address: '198.51.100.20' }]
          : []),
        { id: 'turn', name: 'turn', kind: 'turn', in: 'internet', address: '198.51.100.30' },
        { id: 'vpn', name: 'vpn', kind: 'vpn', in: 'internet', address: '198.51.100.31' },
      ],
      phones: [ann, bobAt === 'home' ? bob : { ...bob, in: 'internet', address: '203.0.113.99' }],
    } as unknown as NetworkFile;
    const read = readNetwork(file);
    if (!read.ok) throw new Error(JSON.stringify(read.faults));
    return read.network;
  });
