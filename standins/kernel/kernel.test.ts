import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { spawnSync } from 'node:child_process';
import { buildSync } from 'esbuild';
import type { NetworkPhone, Server, Socket } from '../../core/estate';
import { readNetwork, topologyOf, verdictsOf, type PathVerdicts } from '../../core/network';
import { Pair, TURN_USER } from './ends';
import { missingForLabs, withLab, type KernelBox, type LabHost } from './lab';

/** What the kernel gives a flow without an answer and, once it is a stream, s: short ones, so that silence is soon over. */
const UDP_S = 4;
const STREAM_S = 9;
/** Silences tried, s: before and after the first of these runs out. */
const SHORT_S = 2;
const LONG_S = 6;

const SYSTEM = '198.51.100.1';
const STUN = '198.51.100.10';
const TURN = '198.51.100.20';
const HOME: Pick<
  KernelBox,
  'id' | 'in' | 'inside' | 'outside' | 'nat' | 'udpTimeoutS' | 'udpStreamTimeoutS'
> = {
  id: 'home',
  in: 'internet',
  inside: '192.168.1.1',
  outside: '203.0.113.1',
  nat: true,
  udpTimeoutS: UDP_S,
  udpStreamTimeoutS: STREAM_S,
};
const PHONE = '192.168.1.10';

/** A phone's settings and its system's: what is tried at one pair of ports. */
interface Way {
  readonly phone: Partial<NetworkPhone>;
  readonly system?: Partial<Server>;
}
/** A system that answers and calls by where a phone was seen, and sends sound to where it came from. */
const KIND = { answersToSource: true, contactFromSource: true, latches: true };
/** The ways that are tried behind each box. */
const WAYS: readonly Way[] = [
  { phone: {} },
  { phone: { rport: false } },
  { phone: {}, system: KIND },
  { phone: { keepAliveS: 3 }, system: KIND },
  { phone: { method: 'stun' } },
  { phone: { method: 'stun', keepAliveS: 3 } },
  { phone: { method: 'stun' }, system: { latches: true } },
  { phone: { method: 'ice' } },
  { phone: { method: 'turn' } },
];
const portsOf = (at: number) => ({
  signalPort: 5060 + 10 * at,
  rtpPort: 16_384 + 10 * at,
  server: { port: 5060 + 10 * at, mediaPort: 20_000 + 10 * at },
});

/** A box in the terms of the model (section 3): what masquerading of Linux does. */
function modelled({ isRandom, ...box }: KernelBox) {
  return {
    ...box,
    name: box.id,
    mapping: isRandom ? 'address-and-port-dependent' : 'endpoint-independent',
    filtering: 'address-and-port-dependent',
    portPreserving: !isRandom,
    sharesPorts: !isRandom,
    blocked: box.blocked ?? [],
    forwards: box.forwards ?? [],
  };
}

interface Tried {
  readonly registers: boolean;
  readonly ringsAfterShort: boolean;
  readonly ringsAfterLong: boolean;
  readonly soundOut: boolean;
  readonly soundIn: boolean;
  readonly staysUp: boolean;
}
const works = ({ verdict }: { readonly verdict: string }) => verdict === 'works';
const ringsAt = ({ worksUntil }: PathVerdicts, s: number) => worksUntil === null || s < worksUntil;
const predicted = (verdicts: PathVerdicts): Tried => ({
  registers: works(verdicts.registers),
  ringsAfterShort: ringsAt(verdicts, SHORT_S),
  ringsAfterLong: ringsAt(verdicts, LONG_S),
  soundOut: works(verdicts.soundOut),
  soundIn: works(verdicts.soundIn),
  staysUp: works(verdicts.staysUp),
});

interface Plan {
  readonly boxes: readonly KernelBox[];
  /** Where the phone stands, and its address. */
  readonly at: { readonly in: string; readonly address: string };
  readonly ways: readonly Way[];
}

function networkOf({ boxes, at }: Plan, { phone, system }: Way, index: number) {
  const { server, ...ports } = portsOf(index);
  const read = readNetwork({
    format: 'hostler-network/1',
    name: 'lab',
    boxes: boxes.map(modelled),
    servers: [
      { id: 'system', name: 'System', kind: 'system', in: 'internet', address: SYSTEM, ...server, ...system },
      { id: 'stun', name: 'STUN', kind: 'stun', in: 'internet', address: STUN },
      { id: 'turn', name: 'TURN', kind: 'turn', in: 'internet', address: TURN },
    ],
    phones: [{ id: 'phone', name: 'Phone', ...at, ...ports, ...phone }],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  return read.network;
}

const after = (s: number) => new Promise<void>((resolve) => setTimeout(resolve, s * 1000));

/** Registers all anew, lets a time pass with its keep-alives, and calls each. */
async function silence(pairs: readonly Pair[], ways: readonly Way[], s: number): Promise<readonly boolean[]> {
  await Promise.all(pairs.map((pair) => pair.prepare()));
  // The time runs from the registration, not from its answer, which never comes to some.
  const others = pairs.map((pair): Promise<unknown> => pair.register());
  for (let at = 1; at <= s; at += 1) {
    await after(1);
    ways.forEach(({ phone: { keepAliveS } }, i) => {
      const pair = pairs[i];
      if (pair && keepAliveS && at < s && at % keepAliveS === 0) others.push(pair.keepAlive());
    });
  }
  await Promise.all(others);
  return Promise.all(pairs.map((pair) => pair.rings()));
}

const root = join(__dirname, '../..');
const folder = join(root, 'var', `kernel-lab-${process.pid}`);
const agent = join(folder, 'agent.cjs');

/** What really happens in a lab: for each way, its six answers. @param far what stands where the TURN server does */
async function measured(plan: Plan, far: 'ours' | 'coturn' = 'ours'): Promise<readonly Tried[]> {
  const hosts = [
    { id: 'phone', ...plan.at },
    { id: 'system', in: 'internet', address: SYSTEM },
    { id: 'stun', in: 'internet', address: STUN },
    { id: 'turn', in: 'internet', address: TURN },
  ];
  return withLab(plan.boxes, hosts, agent, async (lab) => {
    const host = (id: string): LabHost => {
      const found = lab.hosts.get(id);
      if (!found) throw new Error(`no host ${id}`);
      return found;
    };
    const { username, password } = TURN_USER;
    expect(await host('stun').turn(3478, username, password, [])).toBe(true);
    if (far === 'ours') expect(await host('turn').turn(3478, username, password, [])).toBe(true);
    else await startOther(lab.run, host('phone'));
    const pairs = plan.ways.map((way, i) => {
      const { phones, servers } = networkOf(plan, way, i);
      const at = (address: string): Socket => ({ address, port: 3478 });
      return new Pair(host('phone'), phones[0]!, host('system'), servers[0]!, at(STUN), at(TURN));
    });
    for (const pair of pairs) await pair.open();
    await Promise.all(pairs.map((pair) => pair.prepare()));
    const registers = await Promise.all(pairs.map((pair) => pair.register()));
    await lab.forget();
    const short = await silence(pairs, plan.ways, SHORT_S);
    await lab.forget();
    const long = await silence(pairs, plan.ways, LONG_S);
    await lab.forget();
    const sounds = await Promise.all(pairs.map((pair) => pair.sound()));
    return pairs.map((_pair, i) => ({
      registers: registers[i]!,
      ringsAfterShort: short[i]!,
      ringsAfterLong: long[i]!,
      ...sounds[i]!,
    }));
  });
}

/** The TURN server that nobody here wrote, in the host's namespace; waited for from another one. */
async function startOther(
  run: Parameters<Parameters<typeof withLab>[3]>[0]['run'],
  asker: LabHost,
): Promise<void> {
  run('turn', [
    'turnserver',
    ...['-n', '--no-tls', '--no-dtls', '--no-cli', '--lt-cred-mech', '--log-file', join(folder, 'log')],
    ...['--listening-ip', TURN, '--relay-ip', TURN, '--listening-port', '3478', '--realm', 'lab'],
    ...['--user', `${TURN_USER.username}:${TURN_USER.password}`, '--pidfile', join(folder, 'pid')],
    ...['--db', join(folder, 'db')],
  ]);
  for (let tries = 0; tries < 20; tries += 1) {
    if (await asker.connects({ address: TURN, port: 3478 })) return;
    await after(0.3);
  }
  throw new Error('coturn does not answer');
}

const missing = missingForLabs();
if (missing !== null)
  process.stderr.write(`the model is not held against the kernel's NAT here: ${missing} is missing\n`);

const PLANS: Readonly<Record<string, Plan>> = {
  'a home router: masquerading': { boxes: [HOME], at: { in: 'home', address: PHONE }, ways: WAYS },
  'a NAT that gives each flow a port by chance': {
    boxes: [{ ...HOME, isRandom: true }],
    at: { in: 'home', address: PHONE },
    ways: WAYS,
  },
  'ports that lead to the phone whoever sends': {
    boxes: [{ ...HOME, forwards: [{ proto: 'udp', ports: '5000-30000', to: PHONE }] }],
    at: { in: 'home', address: PHONE },
    ways: [
      ...WAYS,
      {
        phone: {
          method: 'manual-public-address',
          manual: {
            address: HOME.outside,
            signalPort: portsOf(WAYS.length).signalPort,
            rtpPort: portsOf(WAYS.length).rtpPort,
          },
        },
      },
    ],
  },
  'a public address set by hand without such ports': {
    boxes: [HOME],
    at: { in: 'home', address: PHONE },
    ways: [
      {
        phone: {
          method: 'manual-public-address',
          manual: { address: HOME.outside, signalPort: 5060, rtpPort: 16_384 },
        },
      },
      {
        phone: {
          method: 'manual-public-address',
          manual: { address: '203.0.113.99', signalPort: 5070, rtpPort: 16_394 },
        },
      },
    ],
  },
  'a firewall without NAT': {
    boxes: [{ ...HOME, nat: false, inside: '198.18.1.1' }],
    at: { in: 'home', address: '198.18.1.10' },
    ways: WAYS,
  },
  'ports of signalling blocked': {
    boxes: [{ ...HOME, blocked: ['udp:5060-5080'] }],
    at: { in: 'home', address: PHONE },
    ways: WAYS,
  },
  'ports of sound and of TURN blocked': {
    boxes: [{ ...HOME, blocked: ['udp:20000-20100', 'udp:3478'] }],
    at: { in: 'home', address: PHONE },
    ways: WAYS,
  },
  'two NATs, one behind the other': {
    boxes: [
      { ...HOME, id: 'carrier', inside: '100.64.1.1' },
      { ...HOME, in: 'carrier', outside: '100.64.1.2' },
    ],
    at: { in: 'home', address: PHONE },
    ways: WAYS,
  },
  'a NAT by chance behind a home router': {
    boxes: [
      { ...HOME, id: 'carrier', inside: '100.64.1.1', isRandom: true },
      { ...HOME, in: 'carrier', outside: '100.64.1.2' },
    ],
    at: { in: 'home', address: PHONE },
    ways: WAYS,
  },
};

(missing === null ? describe : describe.skip)('the model and the kernel say the same', () => {
  beforeAll(() => {
    buildSync({
      absWorkingDir: root,
      entryPoints: ['standins/kernel/agent.ts'],
      outfile: agent,
      bundle: true,
      platform: 'node',
      packages: 'external',
    });
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  const hasOther = spawnSync('which', ['turnserver']).status === 0;
  if (missing === null && !hasOther)
    process.stderr.write('coturn is not installed: the far end is ours alone\n');

  /** Labs are measured side by side: most of their time is silence. */
  const results = new Map<string, Promise<readonly Tried[]>>();
  const begin = (name: string) => {
    const plan = PLANS[name];
    if (plan && !results.has(name)) {
      const result = measured(plan);
      result.catch(() => undefined);
      results.set(name, result);
    }
  };
  const names = Object.keys(PLANS);
  test.each(names)(
    '%s',
    async (name) => {
      const plan = PLANS[name]!;
      const at = names.indexOf(name);
      names.slice(at, at + 5).forEach(begin);
      const seen = await results.get(name)!;
      const told = plan.ways.map((way, i) => {
        const network = networkOf(plan, way, i);
        return predicted(verdictsOf(topologyOf(network), network.phones[0]!));
      });
      const named = (tried: readonly Tried[]) =>
        plan.ways.map(({ phone, system }, i) => ({ way: { ...phone, ...system }, ...tried[i] }));
      expect(named(seen)).toEqual(named(told));
    },
    60_000,
  );

  (hasOther ? test : test.skip)(
    'with the TURN server nobody here wrote at the far end',
    async () => {
      const plan: Plan = {
        boxes: [{ ...HOME, isRandom: true }],
        at: { in: 'home', address: PHONE },
        ways: [{ phone: { method: 'turn' } }, { phone: { method: 'turn' }, system: KIND }],
      };
      const told = plan.ways.map((way, i) => {
        const network = networkOf(plan, way, i);
        return predicted(verdictsOf(topologyOf(network), network.phones[0]!));
      });
      expect(await measured(plan, 'coturn')).toEqual(told);
    },
    60_000,
  );

  test('TCP goes where UDP is blocked, and nowhere where it is blocked itself', async () => {
    for (const [blocked, isOpen] of [
      [['udp'], true],
      [['tcp'], false],
      [['tcp:5060'], false],
    ] as const) {
      const plan: Plan = { boxes: [{ ...HOME, blocked }], at: { in: 'home', address: PHONE }, ways: [] };
      const network = networkOf(plan, { phone: { transport: 'tcp' } }, 0);
      expect(works(verdictsOf(topologyOf(network), network.phones[0]!).registers)).toBe(isOpen);
      const hosts = [
        { id: 'phone', ...plan.at },
        { id: 'system', in: 'internet', address: SYSTEM },
      ];
      const connects = await withLab(plan.boxes, hosts, agent, async ({ hosts: running }) => {
        await running.get('system')!.listen(5060);
        return running.get('phone')!.connects({ address: SYSTEM, port: 5060 });
      });
      expect([blocked, connects]).toEqual([blocked, isOpen]);
    }
  }, 60_000);
});
