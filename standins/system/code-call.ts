import { parseSdp, TELEPHONE_EVENT, writeSdp } from '../../core/wire/sip';
import { openMedia } from '../media/port';
import { dialogOfInvite, inDialog, isWithin } from '../sip/dialog';
import type { Asked, SipNode } from '../sip/node';
import type { Clock } from '../sip/clock';
import type { CodeReply, LiveCall } from './types';

export interface CodeCall {
  readonly node: SipNode;
  readonly address: string;
  readonly clock: Clock;
  readonly asked: Asked;
  /** @param typed what has been typed so far, one for each question */
  readonly act: (typed: readonly string[]) => Promise<CodeReply>;
  readonly onGone: () => void;
}

/** How long somebody may take to type, and what is typed at most. */
const TYPE_WITHIN_MS = 15_000;
const MOST_QUESTIONS = 6;
const MOST_DIGITS = 20;
const SAID_PACKETS = 5;
/** How long what was done is heard before the call ends. */
const TOLD_MS = 300;

/** Takes a call to a code: answers it, asks for what is missing, says what was done, and ends. */
export async function takeCode({ node, address, clock, asked, act, onGone }: CodeCall): Promise<LiveCall> {
  const id = asked.request.callId;
  let typed: readonly string[] = [];
  let digits = '';
  let waiting: ((digits: string | null) => void) | null = null;
  let over = false;
  const media = await openMedia({
    address,
    onKey: (key) => {
      if (key === '#') waiting?.(digits);
      else if (digits.length < MOST_DIGITS) digits += key;
    },
  });
  media.aim(parseSdp(asked.request.body));
  const local = node.transport.local[asked.from.transport];
  const dialog = dialogOfInvite(asked.request, asked.tag, asked.from);
  const end = (isOurs: boolean) => {
    if (over) return;
    over = true;
    waiting?.(null);
    media.close();
    if (isOurs) node.request(inDialog(dialog, 'BYE'), dialog.to, () => undefined);
    onGone();
  };
  const nextTyped = () =>
    new Promise<string | null>((resolve) => {
      const callOff = clock.after(TYPE_WITHIN_MS, () => done(null));
      const done = (text: string | null) => {
        callOff();
        waiting = null;
        digits = '';
        resolve(text);
      };
      waiting = done;
    });
  const talk = async () => {
    for (let question = 0; question < MOST_QUESTIONS && !over; question += 1) {
      const { says, asks } = await act(typed);
      if (over) return;
      media.say(`${asks ? 'ask' : 'told'} ${says}`, SAID_PACKETS);
      if (!asks) break;
      const next = await nextTyped();
      if (next === null) break;
      typed = [...typed, next];
    }
    setTimeout(() => end(true), TOLD_MS);
  };
  asked.onCancel = () => end(false);
  asked.onAck = () => void talk().catch(() => end(true));
  asked.onNoAck = () => end(false);
  asked.respond(200, {
    headers: [
      ['Contact', `<sip:hostler@${local.host}:${local.port};transport=${asked.from.transport}>;automata`],
      ['Content-Type', 'application/sdp'],
    ],
    body: writeSdp({ address, port: media.port, codecs: [0, 8], eventType: TELEPHONE_EVENT }, media.port),
  });
  return {
    id,
    takesBye: (bye, from) => {
      if (over || !isWithin(dialog, bye, from)) return false;
      end(false);
      return true;
    },
    close: () => end(true),
  };
}
