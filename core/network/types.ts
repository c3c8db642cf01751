import type { Box, BoxFile, NetworkPhone, PhoneFile, Protocol, Server, ServerFile, Socket } from '../estate';

export const NETWORK_FORMAT = 'hostler-network/1';

/** A network whose every field is known. */
export interface Network {
  readonly name: string;
  readonly boxes: readonly Box[];
  readonly servers: readonly Server[];
  readonly phones: readonly NetworkPhone[];
}

/** The network as it is written in a file; what is left out has the value given in docs/formats.md. */
export interface NetworkFile {
  readonly format: typeof NETWORK_FORMAT;
  readonly name: string;
  readonly boxes: readonly BoxFile[];
  readonly servers: readonly ServerFile[];
  readonly phones: readonly PhoneFile[];
}

/** Why a packet went no further. */
export type DropReason =
  | 'blocked'
  | 'no-hairpin'
  | 'no-mapping'
  | 'filtered'
  | 'no-such-address'
  | 'nothing-listens'
  | 'wrong-host';
/** Why a question is answered with no. */
export type FailReason = DropReason | 'no-server' | 'no-allocation' | 'relay-elsewhere';

/** What a packet is for. */
export type PacketKind =
  | 'REGISTER'
  | 'answer'
  | 'keep-alive'
  | 'STUN'
  | 'STUN answer'
  | 'INVITE'
  | 'ACK'
  | 'sound'
  | 'check'
  | 'check answer'
  | 'Allocate'
  | 'Allocate answer'
  | 'tunnel';

/** One place on a packet's way. Sockets as "address:port", as they are when the packet gets there. */
export interface Hop {
  readonly packet: PacketKind;
  /** When, in s. */
  readonly at: number;
  readonly protocol: Protocol;
  /** The box or host, or the internet. */
  readonly where: string;
  readonly source: string;
  readonly destination: string;
  /** What the place wrote in their stead. */
  readonly rewritten?: {
    readonly source?: string;
    readonly destination?: string;
    readonly contact?: string;
    readonly media?: string;
  };
  readonly dropped?: DropReason;
  /** Where tables are asked for: what the box remembers once the packet was there. */
  readonly table?: readonly TableRow[];
}

/** One line of what a box remembers: with NAT a mapping (RFC 4787 section 4), without it a state. */
export interface TableRow {
  readonly protocol: Protocol;
  readonly inside: string;
  /** The outside port; null: the box does no NAT. */
  readonly port: number | null;
  /** It lets anything in, whoever sends. */
  readonly isOpen: boolean;
  /** Seconds until it runs out; 0 or less: it has, so long ago. */
  readonly leftS: number;
  /** Whom it lets in, by socket or by address, and for how long. */
  readonly towards: readonly { readonly socket: string; readonly leftS: number }[];
}

export interface Verdict {
  readonly verdict: 'works' | 'fails';
  readonly reason?: FailReason;
  /** The box, host or network at which the deciding packet died. */
  readonly at?: string;
  readonly trace: readonly Hop[];
}

/** The silences, in s, after which it is asked whether a phone still rings. */
export const SILENCES = [0, 30, 60, 180, 600, 1700] as const;
export type Silence = `${(typeof SILENCES)[number]}`;

/** What is asked of one phone, and answered. */
export interface PathVerdicts {
  readonly phone: string;
  readonly registers: Verdict;
  readonly ringsAfter: Readonly<Record<Silence, Verdict>>;
  /** The first second of silence at which it does not ring; null: it rings after each up to 7500 s. */
  readonly worksUntil: number | null;
  readonly soundOut: Verdict;
  readonly soundIn: Verdict;
  readonly staysUp: Verdict;
  readonly phoneToPhone?: { readonly there: Verdict; readonly back: Verdict };
  readonly survives: {
    /** Seconds without calls after the outside address has changed; null: none comes any more. */
    readonly addressChange: number | null;
    /** The phones that fall silent with this one. */
    readonly relayStops: readonly string[];
  };
}

/** A packet that a stand-in router let go of: from where to where, and why. */
export interface LostPacket {
  readonly protocol: Protocol;
  readonly from: Socket;
  readonly to: Socket;
  readonly reason: FailReason;
  /** The box or host, or the internet. */
  readonly at: string;
  /** The first line of a SIP message that can be read; empty of anything else. */
  readonly line: string;
}

/** The last packet of a phone that stands by itself, or for it, that a router let go of. */
export interface WayLost {
  readonly endpoint: string;
  /** The site whose routers they are. */
  readonly site: string;
  /** Since 1970. */
  readonly atMs: number;
  /** The method of a request, the status of an answer; empty: anything else than SIP that can be read. */
  readonly packet: string;
  /** Where it was lost is named as the network has it. */
  readonly lost: Omit<LostPacket, 'line'>;
}
