import type { FarEnd } from '../../core/calls/live';
import type { SipRequest } from '../../core/wire/sip';
import type { MediaPort } from '../media/port';
import type { Peer } from '../sip/transport';

/** What a leg tells the call it is part of. */
export interface LegWatch {
  readonly onAlert: () => void;
  /** @param byMachine the far end said so, by the feature tag `automata` (RFC 3840) */
  readonly onAnswer: (byMachine: boolean) => void;
  /** @param status the SIP answer that said so last */
  readonly onFail: (how: FarEnd, status: number) => void;
  readonly onKey: (key: string) => void;
  readonly onPacket: (bytes: Uint8Array) => void;
  readonly onBye: () => void;
}

/** One leg of a call, out to a phone or over a trunk. */
export interface OutLeg {
  /** Ends it, whatever stage it is at. */
  readonly end: (reason?: string) => void;
  readonly say: (text: string, packets: number) => void;
  readonly play: MediaPort['play'];
  readonly relay: (bytes: Uint8Array) => void;
  /** Whether a request within a dialog belongs to this leg; if so it has been dealt with. */
  readonly isBye: (bye: SipRequest, from: Peer) => boolean;
}
