import {
  header,
  parseNameAddr,
  parseSdp,
  parseUri,
  type Headers,
  type SipResponse,
} from '../../core/wire/sip';
import type { FarEnd } from '../../core/calls/live';
import { openMedia, type MediaPort } from '../media/port';
import { dialogOfAnswer, inDialog, isWithin, outsideDialog, type Dialog } from '../sip/dialog';
import type { Sent } from '../sip/node';
import { newToken } from '../sip/token';
import type { Peer } from '../sip/transport';
import type { Binding } from './registrar';
import type { LegWatch, OutLeg } from './leg-types';
import { soundTowards } from './sound';
import type { CallHost, ServerManner, SystemOptions } from './types';

interface Target {
  readonly uri: string;
  readonly to: Peer;
  /** How the phone there is treated; left out: as one at the machine. */
  readonly manner?: ServerManner | null;
}

/** Where a contact says that it is; over a connection there is nothing but that. */
function placeOf({ contact, from }: Binding): Peer {
  const uri = from.transport === 'udp' ? parseUri(contact) : null;
  return uri ? { transport: 'udp', host: uri.host, port: uri.port ?? 5060 } : from;
}

/** Where an endpoint's INVITEs go: to each of its contacts. */
export const contactTargets = (
  bindings: readonly Binding[],
  mannerTo: SystemOptions['mannerTo'] = () => null,
): readonly Target[] =>
  bindings.map((binding) => {
    const manner = mannerTo(binding.user);
    const to = manner?.contactFromSource === false ? placeOf(binding) : binding.from;
    return { uri: binding.contact, to, manner };
  });

/** What an answer other than a 2xx says of the far end (RFC 3261, section 21; RFC 3326 with Q.850 causes). */
export function farEndOf({ status, headers }: SipResponse): FarEnd {
  if (status === 486 || status === 600) return 'busy';
  if (status === 603) return 'rejected';
  const absent = /\bQ\.850\b.*\bcause=(?:20|27)\b/i.test(header({ headers }, 'Reason') ?? '');
  return status === 480 && !absent ? 'do-not-disturb' : 'unreachable';
}

/** The body of an INVITE, and the headers that belong to it. */
export interface LegContent {
  readonly headers: Headers;
  readonly body: string;
}
const plainContent = (sdp: string): LegContent => ({
  headers: [['Content-Type', 'application/sdp']],
  body: sdp,
});

const WORST_FIRST: readonly FarEnd[] = ['unreachable', 'do-not-disturb', 'busy', 'rejected'];

/**
 * Calls an endpoint at all its contacts. The first to answer has the call, the others are cancelled; it has failed
 * when all have.
 * @param from the From value without a tag: who is shown as calling
 * @param content what the INVITE carries, where it is more than the SDP
 */
export async function callOut(
  { node, options, onLeg }: CallHost,
  targets: readonly Target[],
  from: string,
  watch: LegWatch,
  content: (sdp: string) => LegContent = plainContent,
): Promise<OutLeg> {
  let dialog: Dialog | null = null;
  let ended = false;
  let alerted = false;
  const failures: FarEnd[] = [];
  const manner = targets[0]?.manner ?? null;
  const media: MediaPort = await openMedia({
    address: options.address,
    socket: await soundTowards(options.address, manner, true),
    onPacket: watch.onPacket,
    onKey: watch.onKey,
  });
  const sdp = media.sdp;

  const carried = content(sdp);

  function onAnswer(answer: SipResponse, sent: Sent): void {
    if (answer.status === 100) return;
    if (answer.status < 200) {
      if (alerted || ended || (answer.status !== 180 && answer.status !== 183)) return;
      if (answer.status === 183) return;
      alerted = true;
      watch.onAlert();
      return;
    }
    if (answer.status >= 300) {
      failures.push(farEndOf(answer));
      if (failures.length < targets.length || ended || dialog) return;
      media.close();
      watch.onFail(WORST_FIRST.findLast((each) => failures.includes(each)) ?? 'unreachable', answer.status);
      return;
    }
    const mine = dialogOfAnswer(sent.request, answer, sent.to);
    node.acknowledge(inDialog(mine, 'ACK', [], mine.seq), mine.to, sent);
    if (ended || dialog) {
      // It crossed our CANCEL, or another contact was quicker: it is taken and put down at once.
      node.request(inDialog(mine, 'BYE'), mine.to, () => undefined);
      return;
    }
    dialog = mine;
    for (const each of requests) if (each !== sent) each.cancel();
    media.aim(parseSdp(answer.body));
    const contact = parseNameAddr(header(answer, 'Contact') ?? '');
    watch.onAnswer(contact !== null && 'automata' in contact.params);
  }

  const requests = targets.map(({ uri, to, manner: towards }) => {
    const local = node.transport.local[to.transport];
    const callId = newToken(12);
    onLeg(callId);
    return node.request(
      {
        method: 'INVITE',
        uri,
        headers: outsideDialog(
          'INVITE',
          from,
          `<${uri.split(';')[0]!}>`,
          [
            [
              'Contact',
              `<sip:hostler@${towards?.writes ?? local.host}:${local.port};transport=${to.transport}>`,
            ],
            ['Allow', 'INVITE, ACK, BYE, CANCEL, OPTIONS'],
            ...carried.headers,
          ],
          1,
          callId,
        ),
        body: carried.body,
      },
      to,
      onAnswer,
    );
  });

  return {
    end: (reason) => {
      if (ended) return;
      ended = true;
      if (dialog)
        node.request(inDialog(dialog, 'BYE', reason ? [['Reason', reason]] : []), dialog.to, () => undefined);
      else for (const each of requests) each.cancel();
      media.close();
    },
    say: media.say,
    play: media.play,
    relay: media.relay,
    isBye: (bye, peer) => {
      if (!dialog || !isWithin(dialog, bye, peer)) return false;
      if (!ended) {
        ended = true;
        media.close();
        watch.onBye();
      }
      return true;
    },
  };
}

/** A leg that leads nowhere. */
export const NO_LEG: OutLeg = {
  end: () => undefined,
  say: () => undefined,
  play: () => () => 0,
  relay: () => undefined,
  isBye: () => false,
};
