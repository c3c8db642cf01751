import { DEFAULT_CONFIRM_PRESS_MS, type EndpointBehaviour } from '../../core/calls/engine';
import type { EndpointTimes, Ms, Socket } from '../../core/estate';
import { toneMuLaw } from '../../core/wire/rtp';
import { parseSdp, TELEPHONE_EVENT, writeSdp, type SipRequest } from '../../core/wire/sip';
import type { MediaPort } from '../media/port';
import type { OpenMedia } from './open-media';
import type { Clock } from '../sip/clock';
import { dialogOfInvite, inDialog, isWithin } from '../sip/dialog';
import type { Asked, SipNode } from '../sip/node';
import type { Peer, TransportName } from '../sip/transport';

/** How a stand-in phone takes a call. */
export interface Manner {
  /** What it does; what is left out is as its times say. */
  readonly behaviour: EndpointBehaviour;
  readonly times: EndpointTimes;
  /** A phone of the public network: it may have a carrier's voicemail, and can be off and still be called. */
  readonly isPublic: boolean;
  /** What the person who answers says. */
  readonly says: string;
  /** Says it as soon as the call is there, spoken to or not. */
  readonly speaksAtOnce?: boolean;
  /** Entered before the key that accepts, where a PIN is asked for. */
  readonly pin?: string;
  /** What the person does who hears a message: presses a key or hangs up, so long after it began. */
  readonly onMessage?: {
    readonly afterMs: Ms;
    readonly press: string | null;
    /** And presses another so long after that. */
    readonly then?: { readonly afterMs: Ms; readonly press: string };
  };
  /** What is typed when something is asked, each ended with `#`. */
  readonly types?: readonly string[];
  /** Hears nothing: its sound goes to an address that it does not listen at, as behind a router. */
  readonly isDeaf?: boolean;
}

/** A call that a stand-in phone has. */
export interface TakenCall {
  readonly callId: string;
  /** The far end hangs up. @returns false: the request is not of this call */
  readonly bye: (request: SipRequest, from: Peer) => boolean;
  readonly close: () => void;
}

export interface TakeOptions {
  readonly node: SipNode;
  readonly openMedia: OpenMedia;
  /** What it says of its signalling socket. */
  readonly contact: (transport: TransportName) => Socket;
  readonly clock: Clock;
  /** What was heard at this phone. */
  readonly onHeard?: (text: string) => void;
  readonly onGone: () => void;
}

const SAID_PACKETS = 5;
/** How long a voicemail greets, and the tone after which it records. */
const GREETING_MS = 600;
const BEEP = Uint8Array.from([...toneMuLaw(1000, 300), ...new Uint8Array(800).fill(0xff)]);

/** The Reason header of a phone that is switched off or out of coverage (Q.850, cause 20). */
const ABSENT = 'Q.850;cause=20;text="Subscriber absent"';

/** What a phone says whose sound is to go where nothing listens. */
const deafSdp = (address: string, session: number): string =>
  writeSdp({ address, port: 9, codecs: [0, 8], eventType: TELEPHONE_EVENT }, session);

/** Answers an INVITE as a phone of this manner would (reach model, section 3, step 5), over real SIP and RTP. */
export function takeAtPhone(asked: Asked, manner: Manner, options: TakeOptions): TakenCall {
  const { node, clock, onHeard, onGone } = options;
  const { behaviour, times, isPublic } = manner;
  const state = behaviour.state ?? 'ready';
  const setupMs = behaviour.setupMs ?? times.setupMs;
  const mailboxAfterMs = !isPublic
    ? null
    : behaviour.mailboxAfterMs === undefined
      ? times.mailboxAfterMs
      : behaviour.mailboxAfterMs;
  const beganMs = clock.now();
  const callOffs = new Set<() => void>();
  let media: MediaPort | null = null;
  let gone = false;
  let isMachine = false;
  let answeredMs = Number.POSITIVE_INFINITY;
  let asksToConfirm = false;

  /** Does something at a moment of the call, counted from the INVITE so that small delays do not add up. */
  function at(ms: Ms, act: () => void): void {
    const callOff = clock.after(Math.max(0, beganMs + ms - clock.now()), () => {
      callOffs.delete(callOff);
      if (!gone) act();
    });
    callOffs.add(callOff);
  }
  function over(): void {
    if (gone) return;
    gone = true;
    for (const callOff of callOffs) callOff();
    media?.close();
    onGone();
  }
  const fail = (status: number, reason?: string) => {
    asked.respond(status, reason ? { headers: [['Reason', reason]] } : {});
    over();
  };
  const local = options.contact(asked.from.transport);
  const contact = (tags: string) =>
    [
      'Contact',
      `<sip:phone@${local.address}:${local.port};transport=${asked.from.transport}>${tags}`,
    ] as const;

  async function answer(byMachine: boolean): Promise<void> {
    // The first to answer has the call; a voicemail that comes due while the phone is being taken is too late.
    if (answeredMs !== Number.POSITIVE_INFINITY) return;
    answeredMs = clock.now() - beganMs;
    isMachine = byMachine;
    const port = await options.openMedia({ onSaid: listen, onPacket: hearMessage }, false);
    if (gone) return port.close();
    media = port;
    if (!manner.isDeaf) port.aim(parseSdp(asked.request.body));
    asked.onAck = () => {
      if (manner.isDeaf) port.aim(parseSdp(asked.request.body));
      if (manner.speaksAtOnce) greet();
      if (!byMachine) return;
      port.say('leave a message', SAID_PACKETS);
      at(answeredMs + GREETING_MS, () => port.play(BEEP, () => undefined, clock.speed));
    };
    asked.onNoAck = over;
    asked.respond(200, {
      headers: [contact(byMachine ? ';automata' : ''), ['Content-Type', 'application/sdp']],
      body: manner.isDeaf ? deafSdp(local.address, port.port) : port.sdp,
    });
  }

  let greeted = false;
  const questions = new Set<string>();
  let hearsMessage = false;
  function hearMessage(): void {
    const { onMessage } = manner;
    if (!onMessage || isMachine || hearsMessage) return;
    hearsMessage = true;
    at(clock.now() - beganMs + onMessage.afterMs, () => {
      const { press, then } = onMessage;
      if (press !== null) {
        media?.press(press);
        if (then) at(clock.now() - beganMs + then.afterMs, () => media?.press(then.press));
        return;
      }
      const dialog = dialogOfInvite(asked.request, asked.tag, asked.from);
      node.request(inDialog(dialog, 'BYE'), dialog.to, () => undefined);
      over();
    });
  }

  /** A person who hears that the call must be accepted presses a key, counted from the answer. */
  function listen(text: string): void {
    onHeard?.(text);
    if (text.startsWith('ask ') && !questions.has(text)) {
      const typed = manner.types?.[questions.size];
      questions.add(text);
      if (typed !== undefined) media?.press(`${typed}#`);
      return;
    }
    // Whoever stays on the line greets each caller.
    if (text.startsWith('told ')) greeted = false;
    if (!text.startsWith('confirm ')) {
      if (!isMachine && /^(hello|mailbox)/.test(text)) greet();
      return;
    }
    if (asksToConfirm || isMachine) return;
    asksToConfirm = true;
    const press = behaviour.pressAfterMs === undefined ? DEFAULT_CONFIRM_PRESS_MS : behaviour.pressAfterMs;
    const refuse = behaviour.refuseAfterMs ?? null;
    const pin = text === 'confirm pin' ? manner.pin : undefined;
    if (press !== null) at(answeredMs + press, () => media?.press(pin === undefined ? '1' : `${pin}#`));
    if (refuse !== null) at(answeredMs + refuse, () => media?.press(text === 'confirm pin' ? '*' : '2'));
  }

  function greet(): void {
    if (greeted) return;
    greeted = true;
    media?.say(manner.says, SAID_PACKETS);
  }

  asked.respond(100);
  asked.onCancel = () => fail(487);
  const ring = () => asked.respond(180, { headers: [contact('')] });
  const answerAt = (ms: Ms | null | undefined, byMachine: boolean) => {
    if (typeof ms === 'number') at(ms, () => void answer(byMachine));
  };
  switch (state) {
    case 'unregistered':
    case 'off':
    case 'busy':
      if (mailboxAfterMs !== null) answerAt(behaviour.offAnswerMs ?? times.offAnswerMs, true);
      else at(setupMs, () => (state === 'busy' ? fail(486) : fail(480, ABSENT)));
      break;
    case 'do-not-disturb':
      at(setupMs, () => (isPublic ? ring() : fail(480)));
      if (isPublic && mailboxAfterMs !== null) answerAt(setupMs + mailboxAfterMs, true);
      break;
    case 'auto-answer':
      at(setupMs, () => {
        ring();
        void answer(false);
      });
      break;
    case 'ready':
    case 'asleep': {
      at(setupMs, ring);
      const { answerAfterMs, rejectAfterMs } = behaviour;
      if (typeof answerAfterMs === 'number') answerAt(setupMs + answerAfterMs, false);
      if (typeof rejectAfterMs === 'number')
        at(setupMs + rejectAfterMs, () => {
          if (answeredMs === Number.POSITIVE_INFINITY) fail(603);
        });
      if (mailboxAfterMs !== null) answerAt(setupMs + mailboxAfterMs, true);
    }
  }
  return {
    callId: asked.request.callId,
    bye: (request, from) => {
      if (!isWithin(dialogOfInvite(asked.request, asked.tag, asked.from), request, from)) return false;
      over();
      return true;
    },
    close: () => {
      if (gone) return;
      if (media) {
        const dialog = dialogOfInvite(asked.request, asked.tag, asked.from);
        node.request(inDialog(dialog, 'BYE'), dialog.to, () => undefined);
      } else asked.respond(480);
      over();
    },
  };
}
