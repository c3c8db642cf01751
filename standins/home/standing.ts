import { deskEndpoint } from '../../core/desks';
import { INTERNET, type Box, type Estate, type Server } from '../../core/estate';
import { networkOf, whyNotTried, type Network } from '../../core/network';
import { hexHash } from '../sip/hash';

/** Sites whose routers stand at most. */
const MOST_HOMES = 60;
/** Calls at once by the sound ports of one server, as far as a forward leads there. */
export const SOUND_PORTS = 50;

/** What stands behind routers of a site, by its endpoint. */
export interface Standing {
  readonly site: string;
  readonly network: Network;
  /** Its name in the network. */
  readonly phone: string;
  /** The routers that it shares with the others of its site: changes where anything of them does. */
  readonly home: string;
  /** Its endpoint. */
  readonly endpoint: string;
}

/** Phones and desks by the name that they have in the networks of sites. */
function endpointsOf({ devices = [], desks = [] }: Estate): ReadonlyMap<string, string> {
  const byName = new Map<string, string>();
  for (const { id, endpoint } of devices) if (endpoint !== undefined) byName.set(`device:${id}`, endpoint);
  for (const { id, device } of desks) byName.set(`device:${device}`, deskEndpoint(id));
  return byName;
}

/** Which phones of an estate stand behind routers, as far as stand-ins of them can be. */
export function standingBehind(estate: Estate): ReadonlyMap<string, Standing> {
  const all = new Map<string, Standing>();
  const names = endpointsOf(estate);
  // Of tens of thousands of people few have an app that says where it is; whose a phone is does not matter here.
  const around = {
    ...estate,
    people: estate.people.filter(({ endpoints }) => endpoints.some(({ path }) => path?.site !== undefined)),
  };
  const sites = (estate.sites ?? []).filter(({ network }) => network !== undefined).slice(0, MOST_HOMES);
  for (const { id: site } of sites) {
    const of = networkOf(around, site);
    if (typeof of === 'string') continue;
    const phones = of.network.phones.filter(
      (phone) => phone.in !== INTERNET && whyNotTried(of.network, phone.id) === null,
    );
    if (phones.length === 0) continue;
    const network = { ...of.network, phones };
    const whole = hexHash('SHA-256', JSON.stringify(network));
    for (const { id } of phones) {
      const endpoint = id.startsWith('endpoint:') ? id.slice('endpoint:'.length) : names.get(id);
      if (endpoint !== undefined)
        all.set(endpoint, { endpoint, site, network, phone: id, home: `${site} ${whole}` });
    }
  }
  return all;
}

/** Whether it is the phone system, to which border controllers belong here. */
export const isOurs = ({ kind }: Server): boolean => kind === 'system' || kind === 'border-controller';

const spanHolds = (ports: string, port: number): boolean => {
  const [from = 0, to = from] = ports.split('-').map(Number);
  return port >= from && port <= to;
};

/**
 * A network whose phone system listens where ours does: what is forwarded to its ports, or blocked on the way to them,
 * is so of ours.
 */
export function withOurPorts(
  network: Network,
  own: { readonly port: number; readonly tlsPort: number },
): Network {
  const ours = network.servers.filter(isOurs);
  const alsoAt = (ports: string): readonly string[] =>
    ours.flatMap(({ port, tlsPort, mediaPort }) => [
      ...(spanHolds(ports, port) && port !== own.port ? [String(own.port)] : []),
      ...(spanHolds(ports, tlsPort) && tlsPort !== own.tlsPort ? [String(own.tlsPort)] : []),
      ...(spanHolds(ports, mediaPort) ? [`${mediaPort}-${mediaPort + 2 * SOUND_PORTS}`] : []),
    ]);
  const boxOf = (box: Box): Box => ({
    ...box,
    forwards: box.forwards.flatMap((each) => [
      each,
      ...alsoAt(each.ports).map((ports) => ({ ...each, ports })),
    ]),
    blocked: box.blocked.flatMap((each) => {
      const [protocol, ports] = each.split(':');
      return [each, ...(ports === undefined ? [] : alsoAt(ports).map((more) => `${protocol}:${more}`))];
    }),
  });
  return {
    ...network,
    boxes: network.boxes.map(boxOf),
    servers: network.servers.map((server) => (isOurs(server) ? { ...server, ...own } : server)),
  };
}
