import { INTERNET, type BoxFile, type Estate, type PathSettings, type PhoneFile, type Site } from '../estate';
import { wholeNetwork } from './read';
import { NETWORK_FORMAT, type Network, type NetworkFile } from './types';

/** A phone of the estate as it stands in a network. */
export interface PlacedPhone {
  /** Its id in the network. */
  readonly id: string;
  /** A phone as a thing, or a softphone. */
  readonly kind: 'device' | 'endpoint';
  /** Its id in the estate. */
  readonly of: string;
  readonly name: string;
  /** Whose it is, where that is known. */
  readonly person?: { readonly id: string; readonly name: string };
}
export interface SiteNetworkOf {
  readonly network: Network;
  readonly file: NetworkFile;
  readonly phones: readonly PlacedPhone[];
}
type Parts = Pick<Estate, 'sites' | 'devices' | 'servers' | 'people'>;

/** The id of a box in a network that is put together from several sites. */
export const boxIn = (site: string, box: string): string =>
  box === INTERNET ? INTERNET : `box:${site}:${box}`;

/** The box behind which phones stand where nothing else is said: the one furthest in. */
export function innermost(boxes: readonly BoxFile[]): BoxFile | null {
  const depth = (box: BoxFile): number => {
    let [here, steps]: [BoxFile | undefined, number] = [box, 0];
    while (here && here.in !== INTERNET && steps <= boxes.length) {
      const next: string = here.in;
      here = boxes.find(({ id }) => id === next);
      steps += 1;
    }
    return steps;
  };
  return boxes.reduce<BoxFile | null>((best, box) => (best && depth(best) >= depth(box) ? best : box), null);
}

/** The boxes of a site as a network has them; what its router is known to do to SIP counts where a box says nothing. */
function boxesOf({ id, network, sipAlg }: Site): readonly BoxFile[] {
  const boxes = network?.boxes ?? [];
  const inner = innermost(boxes);
  return boxes.map((box) => ({
    ...(box === inner && sipAlg && box.sipHelper === undefined ? { sipHelper: sipAlg } : {}),
    ...box,
    id: boxIn(id, box.id),
    in: boxIn(id, box.in),
  }));
}

/** Addresses that phones get for which none is known: of the network they stand in, from .20 on. */
function addressesOf(taken: ReadonlySet<string>, inside: string | undefined) {
  const block = (inside ?? '203.0.113.1').split('.').slice(0, 3).join('.');
  const used = new Set(taken);
  return () => {
    for (let last = 20; last < 255; last++) {
      const address = `${block}.${last}`;
      if (used.has(address)) continue;
      used.add(address);
      return address;
    }
    return null;
  };
}

/** Why a site has no network to send packets through. */
export type NoNetwork = 'no-site' | 'no-network' | 'no-servers' | 'address-twice';

/**
 * The network of a site: its boxes and phones, the organisation's servers, and the sites in which these stand.
 * @returns why there is none: the site is not known, nothing is said of its network, there is no server, or two boxes
 * or servers have one address
 */
export function networkOf(estate: Parts, siteId: string): SiteNetworkOf | NoNetwork {
  const { sites = [], devices = [], servers = [], people } = estate;
  const site = sites.find(({ id }) => id === siteId);
  if (!site) return 'no-site';
  if (!site.network) return 'no-network';
  if (servers.length === 0) return 'no-servers';
  const around = new Set(servers.map(({ in: at }) => at.split('/')[0] ?? ''));
  const boxes = [
    ...boxesOf(site),
    ...sites.filter(({ id }) => id !== siteId && around.has(id)).flatMap(boxesOf),
  ];
  const inner = innermost(site.network.boxes);
  const standsIn = (path: PathSettings | undefined) => boxIn(siteId, path?.in ?? inner?.id ?? INTERNET);
  const owners = new Map(
    people.flatMap(({ id, name, endpoints }) => endpoints.map((each) => [each.id, { id, name }] as const)),
  );
  const relayDevice = site.relay?.device;
  const asked = [
    ...devices
      .filter((device) => device.site === siteId)
      .map((device) => {
        const person = device.endpoint === undefined ? undefined : owners.get(device.endpoint);
        return {
          placed: {
            id: `device:${device.id}`,
            kind: 'device' as const,
            of: device.id,
            name: device.name,
            ...(person ? { person } : {}),
          },
          path: device.path,
          method: device.natMethod,
        };
      }),
    ...people.flatMap((person) =>
      person.endpoints
        .filter(({ path }) => path?.site === siteId)
        .map(({ id, label, path }) => ({
          placed: {
            id: `endpoint:${id}`,
            kind: 'endpoint' as const,
            of: id,
            name: label,
            person: { id: person.id, name: person.name },
          },
          path,
          method: path?.method,
        })),
    ),
  ];
  const taken = new Map<string, Set<string>>();
  let isTwice = false;
  const take = (network: string, address: string) => {
    const known = taken.get(network) ?? new Set<string>();
    if (known.has(address)) isTwice = true;
    taken.set(network, known.add(address));
  };
  for (const box of boxes) {
    take(box.id, box.inside);
    take(box.in, box.outside);
  }
  const standing = servers.map((server) => {
    const [home = '', box = ''] = server.in.split('/');
    return server.in === INTERNET ? server : { ...server, in: boxIn(home, box) };
  });
  for (const server of standing) take(server.in, server.address);
  if (isTwice) return 'address-twice';
  for (const { path } of asked) if (path?.address) take(standsIn(path), path.address);
  const free = new Map<string, () => string | null>();
  const insides = new Map(boxes.map(({ id, inside }) => [id, inside]));
  const addressFor = (network: string) => {
    const next = free.get(network) ?? addressesOf(taken.get(network) ?? new Set(), insides.get(network));
    free.set(network, next);
    return next();
  };
  const placed: PlacedPhone[] = [];
  const phones: PhoneFile[] = [];
  const seen = new Set<string>();
  for (const { placed: phone, path = {}, method } of asked) {
    const at = standsIn(path);
    const { in: _in, address: given, ...settings } = path;
    const {
      site: _site,
      method: _method,
      ...own
    } = settings as typeof settings & { site?: string; method?: string };
    const address = given ?? addressFor(at);
    // A network of 254 addresses is full, or two phones were given one: the first has it.
    if (address === null || seen.has(`${at} ${address}`)) continue;
    seen.add(`${at} ${address}`);
    placed.push(phone);
    phones.push({
      ...own,
      id: phone.id,
      name: phone.name,
      in: at,
      address,
      ...(method ? { method } : {}),
      ...(relayDevice !== undefined && `device:${relayDevice}` !== phone.id
        ? { relay: `device:${relayDevice}` }
        : {}),
    });
  }
  const file: NetworkFile = { format: NETWORK_FORMAT, name: site.name, boxes, servers: standing, phones };
  return { network: wholeNetwork(file), file, phones: placed };
}

/** A plain kind of network to start from. */
export interface NetworkKind {
  readonly id: string;
  readonly name: string;
  readonly says: string;
  readonly boxes: readonly BoxFile[];
}
const HOME: BoxFile = {
  id: 'router',
  name: 'Home router',
  in: INTERNET,
  inside: '192.168.1.1',
  outside: '203.0.113.7',
};
export const NETWORK_KINDS: readonly NetworkKind[] = [
  {
    id: 'home',
    name: 'Home router, usual',
    says: 'One NAT that keeps ports and lets in only answers, for a minute.',
    boxes: [HOME],
  },
  {
    id: 'linux',
    name: 'Home router on Linux',
    says: 'One NAT that shares ports and forgets after 30 s, after two minutes once it was answered.',
    boxes: [{ ...HOME, udpTimeoutS: 30, udpStreamTimeoutS: 120, sharesPorts: true }],
  },
  {
    id: 'mobile',
    name: 'Mobile network, two NATs',
    says: 'The phone’s hotspot, and the provider’s NAT with a port for each destination that forgets after 30 s.',
    boxes: [
      {
        id: 'provider',
        name: 'Provider NAT',
        in: INTERNET,
        inside: '100.64.0.1',
        outside: '203.0.113.200',
        mapping: 'address-and-port-dependent',
        portPreserving: false,
        udpTimeoutS: 30,
      },
      { ...HOME, id: 'hotspot', name: 'Hotspot', in: 'provider', outside: '100.64.0.7' },
    ],
  },
  {
    id: 'hotel',
    name: 'Hotel: web only',
    says: 'One NAT that lets out the web and nothing else: TCP to ports 80 and 443.',
    boxes: [
      {
        ...HOME,
        id: 'hotel',
        name: 'Hotel router',
        inside: '10.20.0.1',
        blocked: ['udp', 'tcp:1-79', 'tcp:81-442', 'tcp:444-65535'],
      },
    ],
  },
  {
    id: 'office',
    name: 'Office behind a firewall',
    says: 'One NAT that forgets after 40 s and turns nothing round; what shall come in is forwarded.',
    boxes: [
      {
        ...HOME,
        id: 'office',
        name: 'Office router',
        inside: '10.0.0.1',
        outside: '203.0.113.50',
        udpTimeoutS: 40,
      },
    ],
  },
];
