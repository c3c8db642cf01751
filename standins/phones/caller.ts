import { parseSdp, type SipResponse } from '../../core/wire/sip';
import type { World } from '../../core/calls/engine';
import { dialogOfAnswer, inDialog, isWithin, outsideDialog, type Dialog } from '../sip/dialog';
import type { Sent } from '../sip/node';
import { newToken } from '../sip/token';
import type { Clock } from '../sip/clock';
import type { Peer } from '../sip/transport';
import { signed, type Phone } from './phone';

/** What became of a call at its caller's end. */
export interface CallerSaw {
  /** The final answer, 0 if the call was given up without one. */
  readonly status: number;
  readonly byMachine: boolean;
  /** What was said to the caller, in order, each once. */
  readonly heard: readonly string[];
}

export interface PlaceOptions {
  readonly phone: Phone;
  readonly clock: Clock;
  readonly account: { readonly user: string; readonly password: string };
  readonly server: Peer;
  /** Who calls: shown as calling; null: withheld. */
  readonly from: string | null;
  readonly to: string;
  /** What the carrier says of the number that is shown (`verstat`, 3GPP TS 24.229); left out: nothing. */
  readonly verstat?: string;
  /** The keys pressed when something is asked, and the code. */
  readonly presses?: World['presses'];
  readonly code?: World['code'];
  /** What is typed when something is asked, each ended with `#`. */
  readonly answers?: readonly string[];
  readonly patienceMs?: number | null;
  /** How long a call that is answered lasts, in real ms: long enough to hear both ways. */
  readonly talkMs?: number;
  /** Told what is heard, each time. */
  readonly onHeard?: (text: string) => void;
}

export interface Placed {
  readonly callId: string;
  /** Resolves when nothing of the call is left at the caller's end. */
  readonly over: Promise<CallerSaw>;
  readonly hangUp: () => void;
}

const SAID_PACKETS = 5;
const TALK_MS = 200;

/** Places a call from a stand-in phone, presses the keys its caller would, talks a moment and hangs up. */
export async function placeCall(options: PlaceOptions): Promise<Placed> {
  const { phone, clock, account, server, from, to, presses, code, answers = [] } = options;
  let asked = 0;
  const { node } = phone;
  const callId = newToken(12);
  const heard: string[] = [];
  const callOffs: (() => void)[] = [];
  let current: Sent;
  let dialog: Dialog | null = null;
  let byMachine = false;
  let done: (saw: CallerSaw) => void;
  const over = new Promise<CallerSaw>((resolve) => (done = resolve));

  const media = await phone.openMedia({
    onSaid: (text) => {
      options.onHeard?.(text);
      if (heard.includes(text)) return;
      heard.push(text);
      const [kind, ...rest] = text.split(' ');
      const press =
        kind === 'offer'
          ? presses?.offer
          : kind === 'menu'
            ? presses?.[rest.slice(0, -1).join(' ')]
            : undefined;
      if (press) later(press.afterMs, () => media.press(press.key));
      if (kind === 'ask') {
        const answer = answers[asked];
        asked += 1;
        if (answer !== undefined) media.press(`${answer}#`);
        // Whoever has nothing more to type hangs up.
        else if (options.answers) clock.after(TALK_MS, hangUp);
      }
      if (kind === 'code' && code) later(code.afterMs, () => media.press(code.digits));
    },
  });
  const later = (ms: number, act: () => void) => callOffs.push(clock.after(ms, act));
  let letGo: () => void = () => undefined;
  const end = (status: number) => {
    letGo();
    for (const callOff of callOffs) callOff();
    media.close();
    done({ status, byMachine, heard });
  };

  const shown =
    from === null
      ? '"Anonymous" <sip:anonymous@anonymous.invalid>'
      : `<sip:${from}@${server.host}${options.verstat === undefined ? '' : `;verstat=${options.verstat}`}>`;
  const uri = `sip:${to.replaceAll('#', '%23')}@${server.host}:${server.port}`;
  const local = phone.contact(server.transport);
  const [, fromTagged] = outsideDialog('INVITE', shown, `<${uri}>`);
  const invite = (seq: number, credentials: readonly (readonly [string, string])[]) => ({
    method: 'INVITE',
    uri,
    headers: [
      ['Max-Forwards', '70'],
      fromTagged!,
      ['To', `<${uri}>`],
      ['Call-ID', callId],
      ['CSeq', `${seq} INVITE`],
      ['Contact', `<sip:${account.user}@${local.address}:${local.port};transport=${server.transport}>`],
      ['Content-Type', 'application/sdp'],
      ...credentials,
    ] as (readonly [string, string])[],
    body: media.sdp,
  });

  function onAnswer(answer: SipResponse, sent: Sent): void {
    if (answer.status < 200) {
      if (answer.body !== '') media.aim(parseSdp(answer.body));
      return;
    }
    const credentials =
      sent.request.cseq.seq === 1 ? signed(answer, account, { method: 'INVITE', uri }) : null;
    if (credentials) {
      current = node.request(invite(2, credentials), server, onAnswer);
      if (typeof options.patienceMs === 'number') later(options.patienceMs, () => current.cancel());
      return;
    }
    if (answer.status >= 300) return end(answer.status);
    dialog = dialogOfAnswer(sent.request, answer, server, phone.reaches);
    node.acknowledge(inDialog(dialog, 'ACK', [], dialog.seq), dialog.to, sent);
    media.aim(parseSdp(answer.body));
    byMachine = (answer.headers.find(([name]) => name === 'Contact')?.[1] ?? '').includes(';automata');
    media.say('hello', SAID_PACKETS);
    const talk = setTimeout(hangUp, options.talkMs ?? TALK_MS);
    callOffs.push(() => clearTimeout(talk));
  }

  function hangUp(): void {
    if (!dialog) return current.cancel();
    node.request(inDialog(dialog, 'BYE'), dialog.to, () => end(200));
  }

  letGo = phone.own(callId, {
    callId,
    bye: (request, from) => {
      if (!dialog || !isWithin(dialog, request, from)) return false;
      end(200);
      return true;
    },
    close: () => {
      hangUp();
      // The phone goes, and waits for no answer.
      end(dialog ? 200 : 0);
    },
  });
  current = node.request(invite(1, []), server, onAnswer);
  return { callId, over, hangUp };
}
