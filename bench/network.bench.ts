import { networkVerdicts, readNetwork, recommend, topologyOf, type Network } from '../core/network';
import { send } from '../core/network/carry';
import { listen, newWorld } from '../core/network/world';
import type { Line } from './engine.bench';

const PACKETS = 200_000;
const HOMES = 5000;
const PHONES = 200;

const router = (n: number, at: string, outside: string) => ({
  id: `b${n}`,
  name: `Box ${n}`,
  in: at,
  inside: `192.168.${n}.1`,
  outside,
});
const SYSTEM = { id: 'pbx', name: 'System', kind: 'system', in: 'internet', address: '198.51.100.10' };
const BORDER = { ...SYSTEM, id: 'sbc', name: 'Border', kind: 'border-controller', address: '198.51.100.40' };
const TURN = { ...SYSTEM, id: 'turn', name: 'TURN', kind: 'turn', address: '198.51.100.30' };

function networkOf(boxes: readonly object[], phones: readonly object[]): Network {
  const read = readNetwork({
    format: 'hostler-network/1',
    name: 'Bench',
    boxes,
    phones,
    servers: [SYSTEM, BORDER, TURN],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  return read.network;
}
const secondsOf = (act: () => void): number => {
  const began = performance.now();
  act();
  return (performance.now() - began) / 1000;
};

/** Packets through boxes, and all that is asked of many phones. */
export function networkBench(line: Line): void {
  const row = networkOf(
    [router(0, 'internet', '203.0.113.7'), router(1, 'b0', '192.168.0.2'), router(2, 'b1', '192.168.1.2')],
    [{ id: 'ann', name: 'Ann', in: 'b2', address: '192.168.2.20' }],
  );
  const topology = topologyOf(row);
  const sender = topology.phoneHosts.get('ann');
  if (!sender) throw new Error('no phone');
  const world = newWorld(topology);
  listen(world, 'pbx', 5060);
  const to = { address: '198.51.100.10', port: 5060 };
  let arrived = 0;
  const packet = { kind: 'sound', proto: 'udp', sender, port: 5060, to, meant: ['pbx'] } as const;
  const through = secondsOf(() => {
    for (let n = 0; n < PACKETS; n++) if (send(world, { ...packet, t: n % 50 }).ok) arrived += 1;
  });
  if (arrived !== PACKETS) throw new Error('packets were lost');
  // A bare look-up for each of the four networks that such a packet passes.
  const places = new Map(Array.from({ length: 4 }, (_, n) => [`192.168.${n}.1:5060`, n] as const));
  const keys = [...places.keys()];
  let found = 0;
  const bare = secondsOf(() => {
    for (let n = 0; n < PACKETS; n++) for (const key of keys) found += places.get(key) ?? 0;
  });
  if (found === 0) throw new Error('nothing was looked up');
  line('packets a second through three boxes', Math.round(PACKETS / through).toLocaleString('en'));
  line('  of a bare look-up for each hop', (bare / through).toFixed(3), 'aim 0.1');

  const methods = ['direct', 'stun', 'ice', 'turn', 'border-controller'];
  const home = networkOf(
    Array.from({ length: 20 }, (_, n) =>
      router(n, n === 0 ? 'internet' : 'b0', n === 0 ? '203.0.113.7' : `192.168.0.${n + 10}`),
    ),
    Array.from({ length: PHONES }, (_, n) => ({
      id: `p${n}`,
      name: `p${n}`,
      in: `b${n % 20}`,
      address: `192.168.${n % 20}.${100 + Math.floor(n / 20)}`,
      method: methods[n % methods.length],
      keepAliveS: n % 3 === 0 ? null : 25,
    })),
  );
  networkVerdicts(home);
  line(
    `all verdicts of ${PHONES} phones behind 20 boxes`,
    `${Math.round(secondsOf(() => networkVerdicts(home)) * 1000)} ms`,
    'aim 100 ms',
  );
  const [first] = home.phones;
  if (first)
    line(
      'what works there, for one of them',
      `${Math.round(secondsOf(() => recommend(home, first)) * 1000)} ms`,
      'aim 300 ms',
    );
  const one = networkOf(
    [router(0, 'internet', '203.0.113.7')],
    [{ id: 'ann', name: 'Ann', in: 'b0', address: '192.168.0.20', method: 'stun', keepAliveS: 25 }],
  );
  const homes = secondsOf(() => {
    for (let n = 0; n < HOMES; n++) networkVerdicts(one);
  });
  line(`all verdicts of ${HOMES.toLocaleString('en')} homes, one thread`, `${homes.toFixed(1)} s`);
}
