import * as fc from 'fast-check';
import { NAT_BEHAVIOURS, type NetworkPhone } from '../estate';
import { networks } from '../tests/networks';
import { keepAlive, register, ring } from './signalling';
import { classify } from './classify';
import { dig, enter } from './enter';
import { readNetwork } from './read';
import { recommend } from './recommend';
import { outermostNat, topologyOf, type Topology } from './topology';
import { verdictsOf } from './verdicts';
import { CHANGED_ADDRESS, changeOutside } from './world';
import { NETWORK_FORMAT, SILENCES, type Network, type Verdict } from './types';

const beatOf = (phone: NetworkPhone) => Math.max(1, Math.floor(phone.registerExpiresS / 2));

/** The definition word by word: each silence in a fresh network, second by second, nothing left out. */
function ringsAfter(topology: Topology, phone: NetworkPhone, silence: number): boolean {
  const entered = enter(topology, phone);
  if (!entered.ok || !dig(entered).ok) return false;
  const { actor, tunnel } = entered;
  register(actor, 0);
  for (let t = 1; t <= silence; t++) {
    if (t % 25 === 0) tunnel?.(t);
    if (t % beatOf(actor.phone) === 0) register(actor, t);
    if (actor.phone.keepAliveS !== null && t % actor.phone.keepAliveS === 0) keepAlive(actor, t);
  }
  return ring(actor, silence).ok;
}

/** The same for a new outside address: each second's call in a network of its own. */
function silentFor(topology: Topology, phone: NetworkPhone, most: number): number | null | 'later' {
  const box = outermostNat(topology, phone);
  const callAt = (second: number) => {
    const entered = enter(topology, phone);
    if (!entered.ok || !dig(entered).ok) return false;
    const { actor, tunnel, world } = entered;
    register(actor, 0);
    for (let t = 1; t <= second; t++) {
      if (t === 10 && box) changeOutside(world, box, CHANGED_ADDRESS);
      if (t % 25 === 0) tunnel?.(t);
      if (t % beatOf(actor.phone) === 0) register(actor, t);
      if (actor.phone.keepAliveS !== null && t % actor.phone.keepAliveS === 0) keepAlive(actor, t);
    }
    return ring(actor, second).ok;
  };
  if (!callAt(9)) return null;
  if (!box) return 0;
  for (let second = 10; second <= 10 + most; second++) if (callAt(second)) return second - 10;
  return 'later';
}

/** The longest silence that is gone through, in seconds. */
const LONG_S = 2600;
const isWorking = ({ verdict }: Verdict) => verdict === 'works';

test('what is left out between two events changes no answer: each silence by itself says the same', () => {
  fc.assert(
    fc.property(networks, fc.integer({ min: 0, max: LONG_S }), fc.nat(3), (network, far, seldom) => {
      const topology = topologyOf(network);
      // Long silences are gone through second by second too, though not of every network: they take longest.
      const most = seldom === 0 ? LONG_S : LONG_S / 4;
      const silence = far % (most + 1);
      for (const phone of network.phones) {
        const verdicts = verdictsOf(topology, phone);
        for (const each of SILENCES.filter((seconds) => seconds <= 600))
          expect(isWorking(verdicts.ringsAfter[`${each}`])).toBe(ringsAfter(topology, phone, each));
        const { worksUntil } = verdicts;
        if (worksUntil === null || silence < worksUntil)
          expect(ringsAfter(topology, phone, silence)).toBe(true);
        if (worksUntil !== null && worksUntil <= most)
          expect(ringsAfter(topology, phone, worksUntil)).toBe(false);
      }
    }),
    { numRuns: 120 },
  );
});

test('a new outside address is out of reach exactly until a call gets through', () => {
  fc.assert(
    fc.property(networks, (network) => {
      const topology = topologyOf(network);
      for (const phone of network.phones) {
        const expected = silentFor(topology, phone, 60);
        const { addressChange } = verdictsOf(topology, phone).survives;
        if (expected === 'later') expect(addressChange ?? 61).toBeGreaterThan(60);
        else expect(addressChange).toBe(expected);
      }
    }),
    { numRuns: 30 },
  );
});

test('ICE is never one way', () => {
  fc.assert(
    fc.property(networks, (network) => {
      const phones = network.phones.map((phone) => ({ ...phone, method: 'ice' as const }));
      const whole = {
        ...network,
        phones,
        servers: network.servers.map((each) => ({ ...each, ice: true, latches: false })),
      };
      const [ann, bob] = phones;
      if (!ann || !bob) throw new Error('two phones');
      const verdicts = verdictsOf(topologyOf(whole), ann, bob);
      expect(isWorking(verdicts.soundOut)).toBe(isWorking(verdicts.soundIn));
      expect(verdicts.phoneToPhone && isWorking(verdicts.phoneToPhone.there)).toBe(
        verdicts.phoneToPhone && isWorking(verdicts.phoneToPhone.back),
      );
    }),
    { numRuns: 120 },
  );
});

test('what a helper cannot read it does not change: over TLS all helpers do the same as none', () => {
  fc.assert(
    fc.property(networks, (network) => {
      const phones = network.phones.map((phone) => ({ ...phone, transport: 'tls' as const }));
      const without = {
        ...network,
        phones,
        boxes: network.boxes.map((box) => ({ ...box, sipHelper: 'none' as const })),
      };
      const [ann] = phones;
      if (!ann) throw new Error('a phone');
      expect(verdictsOf(topologyOf({ ...network, phones }), ann)).toEqual(
        verdictsOf(topologyOf(without), ann),
      );
    }),
    { numRuns: 120 },
  );
});

test('a keep-alive that divides another never does worse where ports are kept, mappings need no destination and no time-out changes', () => {
  fc.assert(
    fc.property(
      networks,
      fc.integer({ min: 2, max: 60 }),
      fc.integer({ min: 2, max: 4 }),
      (network, shorter, times) => {
        const plain = {
          ...network,
          boxes: network.boxes.map((box) => ({
            ...box,
            portPreserving: true,
            mapping: 'endpoint-independent' as const,
            forwards: [],
            udpStreamTimeoutS: null,
          })),
        };
        const topology = topologyOf(plain);
        for (const phone of plain.phones) {
          const until = (keepAliveS: number) =>
            verdictsOf(topology, { ...phone, keepAliveS, registerExpiresS: 7200 }).worksUntil ?? Infinity;
          expect(until(shorter)).toBeGreaterThanOrEqual(until(shorter * times));
        }
      },
    ),
    { numRuns: 60 },
  );
});

describe('Classification', () => {
  const one = (mapping: (typeof NAT_BEHAVIOURS)[number], filtering: (typeof NAT_BEHAVIOURS)[number]) => {
    const read = readNetwork({
      format: NETWORK_FORMAT,
      name: 'One box',
      boxes: [
        {
          id: 'home',
          name: 'Home',
          in: 'internet',
          inside: '192.168.1.1',
          outside: '203.0.113.7',
          mapping,
          filtering,
        },
      ],
      servers: [],
      phones: [],
    });
    if (!read.ok) throw new Error('not read');
    return read.network;
  };
  const here = { in: 'home', address: '192.168.1.20' };
  const nine = NAT_BEHAVIOURS.flatMap((mapping) =>
    NAT_BEHAVIOURS.map((filtering) => [mapping, filtering] as const),
  );
  test.each(nine)('finds %s mapping with %s filtering', (mapping, filtering) => {
    expect(classify(one(mapping, filtering), here)).toMatchObject({
      answered: true,
      nat: true,
      mapping,
      filtering,
    });
  });
  test('behind two boxes it finds the stricter of each, which is what the client sees', () => {
    const inner = one('endpoint-independent', 'address-dependent').boxes[0];
    const outer = one('address-and-port-dependent', 'endpoint-independent').boxes[0];
    if (!inner || !outer) throw new Error('two boxes');
    const two: Network = {
      name: 'Two',
      servers: [],
      phones: [],
      boxes: [
        { ...outer, id: 'carrier', inside: '100.64.0.1', outside: '203.0.113.200' },
        { ...inner, in: 'carrier', outside: '100.64.0.7' },
      ],
    };
    expect(classify(two, here)).toMatchObject({
      mapping: 'address-and-port-dependent',
      filtering: 'address-dependent',
      seen: { address: '203.0.113.200' },
    });
  });
  test('says that nobody answered where UDP is blocked', () => {
    const [box] = one('endpoint-independent', 'endpoint-independent').boxes;
    if (!box) throw new Error('a box');
    expect(
      classify({ name: 'x', servers: [], phones: [], boxes: [{ ...box, blocked: ['udp'] }] }, here),
    ).toEqual({
      answered: false,
    });
  });
});

test('what is recommended works when it is set, and what is turned down does not', () => {
  fc.assert(
    fc.property(networks, (network) => {
      for (const phone of network.phones) {
        const { ways, rejected } = recommend(network, phone);
        for (const way of ways) {
          const set: NetworkPhone = {
            ...phone,
            method: way.method,
            transport: way.transport,
            keepAliveS: way.keepAliveS,
            rport: true,
            relay: way.relay ?? phone.relay,
            turnTransport: way.turnTransport ?? phone.turnTransport,
            manual: {
              address: outermostNat(topologyOf(network), phone)?.outside ?? phone.address,
              signalPort: phone.signalPort,
              rtpPort: phone.rtpPort,
            },
          };
          const boxes = network.boxes.map((box) => ({
            ...box,
            forwards: [
              ...box.forwards,
              ...way.opens.filter((each) => each.box === box.id).map(({ forward }) => forward),
            ],
          }));
          const phones = network.phones.map((each) => (each.id === phone.id ? set : each));
          const topology = topologyOf({ ...network, boxes, phones });
          const { registers, worksUntil, soundOut, soundIn, staysUp } = verdictsOf(topology, set);
          expect(
            [way.method, registers, worksUntil, soundOut, soundIn, staysUp].map((each) =>
              each !== null && typeof each === 'object' ? each.verdict : each,
            ),
          ).toEqual([way.method, 'works', null, 'works', 'works', 'works']);
        }
        const rank = ways.map(({ set, dependsOn }) => set.length + dependsOn.length);
        expect(rank).toEqual([...rank].sort((a, b) => a - b));
        for (const each of rejected)
          expect(each.trace.some(({ dropped }) => dropped !== undefined)).toBe(true);
      }
    }),
    { numRuns: 15, endOnFailure: true },
  );
});
