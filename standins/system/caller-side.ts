import type { SipRequest } from '../../core/wire/sip';
import { dialogOfInvite, inDialog, isWithin } from '../sip/dialog';
import type { Answer, Asked, SipNode } from '../sip/node';
import type { Peer } from '../sip/transport';

/** The side that a call comes from, as the call that is steered sees it: a SIP dialog, or a call that is going on already. */
export interface CallerSide {
  readonly id: string;
  /** Where its sound is to go, as SDP. */
  readonly offer: string;
  /** The Contact of what it is answered with. */
  readonly contact: string;
  readonly respond: (status: number, answer?: Answer) => void;
  /** @param act done where it gives up before it is answered */
  readonly whenGivenUp: (act: () => void) => void;
  /** @param act done where it never acknowledges the answer */
  readonly whenUnheard: (act: () => void) => void;
  /** Ends a call that was answered. */
  readonly end: () => void;
  /** Whether a BYE is this side's. */
  readonly isBye: (bye: SipRequest, from: Peer) => boolean;
}

/** A caller over SIP, by the INVITE that it sent. @param writes what the system says of its own address to it */
export function sipCaller(node: SipNode, asked: Asked, writes?: string): CallerSide {
  const { request, from, tag } = asked;
  const { host, port } = node.transport.local[from.transport];
  return {
    id: request.callId,
    offer: request.body,
    contact: `<sip:hostler@${writes ?? host}:${port};transport=${from.transport}>`,
    respond: (status, answer) => asked.respond(status, answer),
    whenGivenUp: (act) => {
      asked.onCancel = act;
    },
    whenUnheard: (act) => {
      asked.onAck = () => undefined;
      asked.onNoAck = act;
    },
    end: () => {
      const dialog = dialogOfInvite(request, tag, from);
      node.request(inDialog(dialog, 'BYE'), dialog.to, () => undefined);
    },
    isBye: (bye, peer) => isWithin(dialogOfInvite(request, tag, from), bye, peer),
  };
}
