import { execFile, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { readlinkSync } from 'node:fs';
import { createInterface } from 'node:readline';
import type { Forward, Socket } from '../../core/estate';
import type { AgentOrder, AgentTold } from './messages';

/** A box as the kernel is to do it. */
export interface KernelBox {
  readonly id: string;
  readonly in: string;
  readonly inside: string;
  readonly outside: string;
  readonly nat: boolean;
  /** Whether each flow gets an outside port by chance; otherwise a port is kept where it is free. */
  readonly isRandom?: boolean;
  readonly udpTimeoutS: number;
  readonly udpStreamTimeoutS: number;
  readonly blocked?: readonly string[];
  readonly forwards?: readonly Forward[];
}
export interface KernelHost {
  readonly id: string;
  readonly in: string;
  readonly address: string;
}

/** A host that runs in its namespace. */
export interface LabHost {
  readonly address: string;
  readonly bind: (port: number) => Promise<void>;
  readonly send: (port: number, to: Socket, data: Uint8Array) => void;
  readonly listen: (port: number) => Promise<boolean>;
  readonly connects: (to: Socket) => Promise<boolean>;
  readonly turn: (port: number, user: string, password: string, allow: readonly string[]) => Promise<boolean>;
  /** Hears what comes, until told otherwise. */
  readonly hear: (listener: (got: { port: number; from: Socket; data: Buffer }) => void) => () => void;
}
export interface Lab {
  readonly hosts: ReadonlyMap<string, LabHost>;
  /** Makes all boxes forget what they have seen. */
  readonly forget: () => Promise<void>;
  /** Starts a program in a host's namespace; it ends with the lab. */
  readonly run: (host: string, command: readonly string[]) => ChildProcess;
}

const COMMAND_WITHIN_MS = 30_000;
const net24 = (address: string) => address.replace(/\.\d+$/, '.0/24');
let made = 0;

/** What the tests of the kernel need and do not find; null: nothing is missing. */
export function missingForLabs(): string | null {
  if (process.platform !== 'linux') return 'Linux';
  if (process.getuid?.() !== 0) return 'root';
  const tool = ['ip', 'nft', 'conntrack'].find((each) => spawnSync('which', [each]).status !== 0);
  if (tool !== undefined) return `the program ${tool}`;
  const name = `hostler-probe-${process.pid}`;
  const could = spawnSync('ip', ['netns', 'add', name]).status === 0;
  if (!could) return 'the right to make network namespaces';
  const table =
    'table ip probe { chain post { type nat hook postrouting priority srcnat; masquerade fully-random; }; }';
  const nat = spawnSync('ip', ['netns', 'exec', name, 'nft', '-f', '-'], { input: table }).status === 0;
  spawnSync('ip', ['netns', 'del', name]);
  return nat ? null : 'NAT in the kernel';
}

const shell = (command: string, args: readonly string[], input: string): Promise<void> =>
  new Promise((resolve, reject) => {
    const child = execFile(command, args, { timeout: COMMAND_WITHIN_MS }, (error, _out, err) =>
      error ? reject(new Error(`${command} ${args.join(' ')}: ${err || error.message}`)) : resolve(),
    );
    child.stdin?.on('error', () => undefined);
    child.stdin?.end(input);
  });

/** The rules of one box. */
function rulesOf(box: KernelBox): string {
  const { outside, forwards = [], blocked = [] } = box;
  const drops = blocked.map((each) => {
    const [proto = '', ports] = each.split(':');
    return `iifname "in" oifname "out" ${ports === undefined ? `meta l4proto ${proto}` : `${proto} dport ${ports}`} drop`;
  });
  const pinholes = forwards.map(
    ({ proto, ports, to }) => `iifname "out" ip daddr ${to} ${proto} dport ${ports} accept`,
  );
  const nat = box.nat
    ? [
        'chain pre { type nat hook prerouting priority dstnat;',
        ...forwards.map(
          ({ proto, ports, to }) => `iifname "out" ip daddr ${outside} ${proto} dport ${ports} dnat to ${to}`,
        ),
        '}',
        'chain post { type nat hook postrouting priority srcnat;',
        `oifname "out" masquerade ${box.isRandom ? 'fully-random' : ''}`,
        '}',
      ]
    : [];
  return [
    'table ip lab {',
    ...nat,
    'chain through { type filter hook forward priority filter; policy drop;',
    ...drops,
    'ct state established,related accept',
    'iifname "in" accept',
    ...(box.nat ? ['ct status dnat accept'] : pinholes),
    '}',
    'chain own { type filter hook input priority filter; policy drop; }',
    '}',
  ].join('\n');
}

/**
 * Makes a small network of namespaces, does something in it, and takes it away whatever happens. Nothing of it has a
 * way to any other network: links are made inside its own namespaces alone.
 * @param agent the file of the program that each host runs
 */
export async function withLab<T>(
  boxes: readonly KernelBox[],
  hosts: readonly KernelHost[],
  agent: string,
  act: (lab: Lab) => Promise<T>,
): Promise<T> {
  made += 1;
  const tag = `hostler-${process.pid}-${made}`;
  const ns = (id: string) => `${tag}-${id}`;
  const all = ['internet', ...boxes.map(({ id }) => id), ...hosts.map(({ id }) => id)].map(ns);
  const children: ChildProcess[] = [];
  // It waits for the end of its input, which is the end of this process however that comes.
  const reaper = spawn(
    'sh',
    [
      '-c',
      'cat >/dev/null; for n in "$@"; do for p in $(ip netns pids "$n" 2>/dev/null); do kill -9 "$p"; done; ip netns del "$n" 2>/dev/null; done',
      'reaper',
      ...all,
    ],
    { stdio: ['pipe', 'ignore', 'ignore'], detached: true },
  );
  reaper.unref();
  const inside = (id: string, script: string) => shell('ip', ['netns', 'exec', ns(id), 'sh', '-e'], script);
  const members = (network: string) => [
    ...boxes.filter((box) => box.in === network).map(({ id }) => [id, 'out'] as const),
    ...hosts.filter((host) => host.in === network).map(({ id }) => [id, 'eth0'] as const),
  ];
  const quiet = `ip link set lo up
for c in all default; do echo 0 >/proc/sys/net/ipv4/conf/$c/rp_filter; echo 0 >/proc/sys/net/ipv4/conf/$c/send_redirects; done
`;
  const bridge = (network: string, name: string) =>
    `ip link add ${name} type bridge\nip link set ${name} up\n${members(network)
      .map(
        ([id, device], at) =>
          `ip link add p${at} type veth peer name ${device} netns ${ns(id)}\nip link set p${at} master ${name} up\n`,
      )
      .join('')}`;
  const innerRoutes = (network: string) =>
    boxes
      .filter((box) => box.in === network && !box.nat && network !== 'internet')
      .map((box) => `ip route add ${net24(box.inside)} via ${box.outside}\n`)
      .join('');
  const place = (network: string, device: string, address: string) =>
    `ip addr add ${address}/${network === 'internet' ? 32 : 24} dev ${device}\nip link set ${device} up\n` +
    (network === 'internet'
      ? `ip route add default dev ${device}\n`
      : `ip route add default via ${boxes.find(({ id }) => id === network)?.inside ?? ''}\n`) +
    innerRoutes(network);

  async function setUp(): Promise<void> {
    await shell('ip', ['-batch', '-'], all.map((name) => `netns add ${name}\n`).join(''));
    await inside('internet', quiet + bridge('internet', 'br0'));
    for (const box of boxes)
      await inside(box.id, `${quiet}${bridge(box.id, 'in')}ip addr add ${box.inside}/24 dev in\n`);
    for (const host of hosts) await inside(host.id, quiet + place(host.in, 'eth0', host.address));
    for (const box of boxes)
      await inside(
        box.id,
        `${place(box.in, 'out', box.outside)}${innerRoutes(box.id)}echo 1 >/proc/sys/net/ipv4/ip_forward
echo 0 >/proc/sys/net/ipv4/conf/out/rp_filter
echo ${box.udpTimeoutS} >/proc/sys/net/netfilter/nf_conntrack_udp_timeout
echo ${box.udpStreamTimeoutS} >/proc/sys/net/netfilter/nf_conntrack_udp_timeout_stream
${box.nat ? '' : 'echo 1 >/proc/sys/net/ipv4/conf/out/proxy_arp; echo 0 >/proc/sys/net/ipv4/neigh/out/proxy_delay'}
nft -f - <<'RULES'
${rulesOf(box)}
RULES
`,
      );
  }

  const run = (id: string, command: readonly string[]): ChildProcess => {
    const child = spawn('ip', ['netns', 'exec', ns(id), ...command], {
      stdio: ['pipe', 'pipe', 'inherit'],
      env: { ...process.env, HOSTLER_OUTER_NAMESPACE: readlinkSync('/proc/self/ns/net') },
    });
    children.push(child);
    return child;
  };

  function hostOf({ id, address }: KernelHost): LabHost {
    const child = run(id, [process.execPath, agent]);
    const waiting = new Map<number, (ok: boolean) => void>();
    const listeners = new Set<Parameters<LabHost['hear']>[0]>();
    let orders = 0;
    if (child.stdout)
      createInterface({ input: child.stdout }).on('line', (line) => {
        const told = JSON.parse(line) as AgentTold;
        if (told.kind === 'done') {
          waiting.get(told.id)?.(told.ok);
          waiting.delete(told.id);
        } else
          for (const listener of listeners)
            listener({ port: told.port, from: told.from, data: Buffer.from(told.data, 'base64') });
      });
    type Order = AgentOrder extends infer O ? (O extends AgentOrder ? Omit<O, 'id'> : never) : never;
    const order = (what: Order): Promise<boolean> =>
      new Promise((resolve) => {
        orders += 1;
        waiting.set(orders, resolve);
        child.stdin?.write(`${JSON.stringify({ ...what, id: orders })}\n`);
      });
    return {
      address,
      bind: async (port) => void (await order({ op: 'bind', address, port })),
      send: (port, to, data) =>
        void order({ op: 'send', port, to, data: Buffer.from(data).toString('base64') }),
      listen: (port) => order({ op: 'listen', address, port }),
      connects: (to) => order({ op: 'connect', ...to }),
      turn: (port, user, password, allow) => order({ op: 'turn', address, port, user, password, allow }),
      hear: (listener) => {
        listeners.add(listener);
        return () => listeners.delete(listener);
      },
    };
  }

  try {
    await setUp();
    const running = new Map(hosts.map((host) => [host.id, hostOf(host)]));
    return await act({
      hosts: running,
      run,
      forget: async () => {
        for (const box of boxes) await inside(box.id, 'conntrack -F >/dev/null 2>&1\n');
      },
    });
  } finally {
    const ended = children.map(
      (child) =>
        new Promise<void>((resolve) => {
          if (child.exitCode !== null || child.signalCode !== null) return resolve();
          child.once('exit', () => resolve());
          child.kill('SIGKILL');
        }),
    );
    await Promise.all(ended);
    const gone = new Promise<void>((resolve) => reaper.once('exit', () => resolve()));
    reaper.ref();
    reaper.stdin?.end();
    await gone;
  }
}
