import {
  addressBook,
  boxSchema,
  faultsOf,
  goingRound,
  INTERNET,
  networkPhoneSchema,
  parts,
  SERVER_KINDS,
  serverSchema,
  type Box,
  type BoxFile,
  type Fault,
  type NetworkPhone,
  type PhoneFile,
  type Server,
  type ServerFile,
} from '../estate';
import { NETWORK_FORMAT, type Network, type NetworkFile } from './types';

const { closed, oneOf, requiredList, requiredText } = parts;

/** So large is no home and no office; what is larger is refused before it is looked at. */
export const MOST_BOXES = 1000;
export const MOST_PHONES = 10_000;

const networkSchema = closed<NetworkFile>({
  format: oneOf([NETWORK_FORMAT]).required('is missing'),
  name: requiredText(),
  boxes: requiredList(boxSchema),
  servers: requiredList(serverSchema),
  phones: requiredList(networkPhoneSchema),
});

const TURN_OR_STUN_PORT = 3478;
const portOf = (kind: Server['kind']) =>
  kind === 'stun' || kind === 'turn' ? TURN_OR_STUN_PORT : kind === 'vpn' ? 1194 : 5060;

export const wholeBox = (box: BoxFile): Box => ({
  nat: true,
  mapping: 'endpoint-independent',
  filtering: 'address-and-port-dependent',
  portPreserving: true,
  hairpin: false,
  udpTimeoutS: 60,
  tcpTimeoutS: 7440,
  inboundRefreshes: true,
  sharesPorts: false,
  udpStreamTimeoutS: null,
  sipHelper: 'none',
  blocked: [],
  forwards: [],
  ...box,
});
export const wholeServer = (server: ServerFile): Server => {
  const isBorder = server.kind === 'border-controller';
  return {
    port: portOf(server.kind),
    tlsPort: server.kind === 'turn' ? 5349 : 5061,
    mediaPort: 10_000,
    public: server.address,
    knowsPublic: true,
    ice: true,
    answersToSource: isBorder,
    contactFromSource: isBorder,
    latches: isBorder,
    ...server,
  };
};
export const wholePhone = ({ manual = null, ...phone }: PhoneFile): NetworkPhone => {
  const { signalPort = 5060, rtpPort: rtp = 16_384 } = phone;
  return {
    transport: 'udp',
    rport: true,
    symmetric: true,
    keepAliveS: null,
    registerExpiresS: 3600,
    method: 'direct',
    relay: null,
    turnTransport: 'udp',
    ...phone,
    signalPort,
    rtpPort: rtp,
    manual: manual ? { signalPort, rtpPort: rtp, ...manual } : null,
  };
};

/** What cannot be said of one object alone: ids, who stands where, addresses, one server of each kind. */
function togetherFaults({ boxes, servers, phones }: NetworkFile): readonly Fault[] {
  const faults: Fault[] = [];
  const say = (path: string, message: string) => faults.push({ path, message });
  const groups = { boxes, servers, phones };
  const ids = new Map<string, string>([[INTERNET, 'the internet']]);
  for (const [group, objects] of Object.entries(groups))
    for (const [at, { id }] of objects.entries()) {
      const path = `${group}[${at}]`;
      const before = ids.get(id);
      if (before) say(`${path}.id`, `“${id}” is ${before} already`);
      else ids.set(id, path);
    }
  const known = new Set(boxes.map(({ id }) => id));
  for (const [group, objects] of Object.entries(groups))
    for (const [at, each] of objects.entries())
      if (each.in !== INTERNET && !known.has(each.in))
        say(`${group}[${at}].in`, `there is no box “${each.in}”`);
  const round = goingRound(boxes);
  for (const [at, { id }] of boxes.entries())
    if (round.has(id)) say(`boxes[${at}].in`, 'goes round: it never leads to the internet');
  const book = addressBook();
  const take = (network: string, address: string, path: string) => {
    const before = book(network, address, path);
    if (before) say(path, `${address} is that of ${before} in the same network`);
  };
  for (const [at, box] of boxes.entries()) {
    take(box.id, box.inside, `boxes[${at}].inside`);
    take(box.in, box.outside, `boxes[${at}].outside`);
  }
  for (const [at, { in: network, address: own }] of servers.entries())
    take(network, own, `servers[${at}].address`);
  for (const [at, { in: network, address: own }] of phones.entries())
    take(network, own, `phones[${at}].address`);
  for (const kind of SERVER_KINDS)
    for (const [at, server] of servers.entries())
      if (server.kind === kind && servers.findIndex((each) => each.kind === kind) < at)
        say(`servers[${at}].kind`, `there is a ${kind} already`);
  const phoneIds = new Set(phones.map(({ id }) => id));
  for (const [at, { id, relay }] of phones.entries())
    if (relay && (!phoneIds.has(relay) || relay === id))
      say(`phones[${at}].relay`, relay === id ? 'must be another phone' : `there is no phone “${relay}”`);
  return faults;
}

export type ReadNetwork =
  | { readonly ok: true; readonly network: Network; readonly file: NetworkFile }
  | { readonly ok: false; readonly faults: readonly Fault[] };

const lengthOf = (value: unknown) => (Array.isArray(value) ? value.length : 0);

/** Reads a network file; every field that is left out has its value then. Errors: each fault with its path. */
export function readNetwork(value: unknown): ReadNetwork {
  const tooMany = (
    [
      ['boxes', MOST_BOXES],
      ['servers', SERVER_KINDS.length],
      ['phones', MOST_PHONES],
    ] as const
  ).flatMap(([path, most]) =>
    lengthOf(parts.field(value, path)) > most ? [{ path, message: `must be ${most} or fewer` }] : [],
  );
  if (tooMany.length > 0) return { ok: false, faults: tooMany };
  const shape = faultsOf(networkSchema, value);
  if (shape.length > 0) return { ok: false, faults: shape };
  const file = value as NetworkFile;
  const faults = togetherFaults(file);
  return faults.length > 0 ? { ok: false, faults } : { ok: true, file, network: wholeNetwork(file) };
}

/** A network that is known to be right, with every field. */
export const wholeNetwork = ({ name, boxes, servers, phones }: NetworkFile): Network => ({
  name,
  boxes: boxes.map(wholeBox),
  servers: servers.map(wholeServer),
  phones: phones.map(wholePhone),
});
