/** Objects of a network: boxes, servers and phones between which packets go. Times in s, IPv4 addresses. */
/** How a phone outside gets through what stands between it and the phone system. */
export const NAT_METHODS = [
  'direct',
  'manual-public-address',
  'stun',
  'ice',
  'turn',
  'border-controller',
  'branch-relay',
  'vpn',
] as const;
export type NatMethod = (typeof NAT_METHODS)[number];

/** What a router does to SIP that passes through it. */
export const SIP_ALGS = ['none', 'rewrites-well', 'breaks-contact', 'breaks-sdp'] as const;
export type SipAlg = (typeof SIP_ALGS)[number];

/** The network that everything else stands in. */
export const INTERNET = 'internet';

/** How a NAT maps or filters (RFC 4787 sections 4.1 and 5). */
export const NAT_BEHAVIOURS = [
  'endpoint-independent',
  'address-dependent',
  'address-and-port-dependent',
] as const;
export type NatBehaviour = (typeof NAT_BEHAVIOURS)[number];

export const SERVER_KINDS = ['system', 'border-controller', 'stun', 'turn', 'vpn'] as const;
export type ServerKind = (typeof SERVER_KINDS)[number];

export const PATH_TRANSPORTS = ['udp', 'tcp', 'tls'] as const;
export type PathTransport = (typeof PATH_TRANSPORTS)[number];
/** What a packet is on the way: TLS is TCP that no box can read. */
export type Protocol = 'udp' | 'tcp';

export interface Socket {
  readonly address: string;
  readonly port: number;
}

/** Ports of the outside that lead to an address inside; the port stays the same. */
export interface Forward {
  readonly proto: Protocol;
  /** "5060" or "10000-10100" */
  readonly ports: string;
  readonly to: string;
}

/** A router, NAT or firewall between its inside and the network that it stands in. */
export interface Box {
  readonly id: string;
  readonly name: string;
  readonly in: string;
  readonly inside: string;
  readonly outside: string;
  readonly nat: boolean;
  readonly mapping: NatBehaviour;
  readonly filtering: NatBehaviour;
  readonly portPreserving: boolean;
  readonly hairpin: boolean;
  readonly udpTimeoutS: number;
  readonly tcpTimeoutS: number;
  readonly inboundRefreshes: boolean;
  readonly sharesPorts: boolean;
  readonly udpStreamTimeoutS: number | null;
  readonly sipHelper: SipAlg;
  readonly blocked: readonly string[];
  readonly forwards: readonly Forward[];
}

export interface Server {
  readonly id: string;
  readonly name: string;
  readonly kind: ServerKind;
  readonly in: string;
  readonly address: string;
  readonly port: number;
  readonly tlsPort: number;
  readonly mediaPort: number;
  /** By which those know it that it is not near. */
  readonly public: string;
  readonly knowsPublic: boolean;
  readonly ice: boolean;
  readonly answersToSource: boolean;
  readonly contactFromSource: boolean;
  readonly latches: boolean;
}

export interface ManualAddress {
  readonly address: string;
  readonly signalPort: number;
  readonly rtpPort: number;
}

export interface NetworkPhone {
  readonly id: string;
  readonly name: string;
  readonly in: string;
  readonly address: string;
  readonly transport: PathTransport;
  readonly signalPort: number;
  readonly rtpPort: number;
  readonly rport: boolean;
  readonly symmetric: boolean;
  readonly keepAliveS: number | null;
  readonly registerExpiresS: number;
  readonly method: NatMethod;
  readonly manual: ManualAddress | null;
  readonly relay: string | null;
  readonly turnTransport: PathTransport;
}

/** The boxes between a site and the internet, as a network file has them; the outermost stand in the internet. */
export interface SiteNetwork {
  readonly boxes: readonly BoxFile[];
}

/** How a phone gets out of the network that it stands in; left out: as docs/formats.md says. */
export interface PathSettings {
  /** The box of the site behind which it stands; left out: the innermost. */
  readonly in?: string;
  readonly address?: string;
  readonly transport?: PathTransport;
  readonly signalPort?: number;
  readonly rtpPort?: number;
  readonly rport?: boolean;
  readonly symmetric?: boolean;
  readonly keepAliveS?: number | null;
  readonly registerExpiresS?: number;
  readonly manual?: Given<ManualAddress, 'address'> | null;
  readonly turnTransport?: PathTransport;
}
/** The same of a softphone, which is no thing at a site. */
export interface AppPath extends PathSettings {
  /** Where it is mostly used from outside. */
  readonly site?: string;
  readonly method?: NatMethod;
}

type Given<T, Needed extends keyof T> = Pick<T, Needed> & Partial<Omit<T, Needed>>;
export type BoxFile = Given<Box, 'id' | 'name' | 'in' | 'inside' | 'outside'>;
export type ServerFile = Given<Server, 'id' | 'name' | 'kind' | 'in' | 'address'>;
export type PhoneFile = Omit<Given<NetworkPhone, 'id' | 'name' | 'in' | 'address'>, 'manual'> & {
  readonly manual?: Given<ManualAddress, 'address'> | null;
};
