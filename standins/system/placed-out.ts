import { USED_UP } from '../../core/calls/out';
import type { CallRecord } from '../../core/records';
import type { Ms } from '../../core/estate';
import { takeChannel } from './channels';
import { callOut, NO_LEG, type LegContent } from './leg';
import type { OutLeg } from './leg-types';
import type { CallHost, DialOut } from './types';

const THEIRS_MS: Ms = 60_000;
const LONGEST_MS: Ms = 4 * 3_600_000;
const SAID_PACKETS = 5;

/** What a call out tells whoever it is placed for. */
export interface OutWatch {
  readonly onAnswer: () => void;
  readonly onPacket: (bytes: Uint8Array) => void;
  /** It came to nothing, or one that was answered has ended. @param why in a sentence; null: they have hung up */
  readonly onOver: (why: string | null) => void;
}

/** A call out to the public network, for somebody who is on a call already. */
export interface PlacedOut {
  readonly relay: (bytes: Uint8Array) => void;
  readonly isBye: OutLeg['isBye'];
  /** Ends it, from this side. */
  readonly end: () => void;
  /** The leg and what came of it, for the record of the call. Times from the beginning of the call. */
  readonly recorded: () => Pick<CallRecord, 'outcome' | 'atMs' | 'talkMs' | 'legs'> & {
    readonly answeredBy?: string;
  };
}

const ANONYMOUS = '"Anonymous" <sip:anonymous@anonymous.invalid>';
const FAILED = { busy: 'The number is busy.', rejected: 'The call was rejected.' } as const;

/**
 * Calls a number over the first trunk that carries it and has a channel, showing what it shall show: a number that is
 * withheld is told to the carrier all the same (RFC 3323, RFC 3325).
 * @param since ms from the beginning of the call that it is part of
 * @returns null: no channel was free
 */
export function placeOut(host: CallHost, out: DialOut, since: () => Ms, watch: OutWatch): PlacedOut | null {
  const { clock, carrier, realm, address } = host.options;
  const giveBack = carrier ? takeChannel(host, out.number) : null;
  if (!giveBack || !carrier) return null;
  const shown = out.callerId === null ? null : `<sip:${out.callerId}@${realm ?? address}>`;
  const withheld = (sdp: string): LegContent => ({
    headers: [
      ...(shown === null ? [] : [['P-Asserted-Identity', shown] as const]),
      ['Privacy', 'id'],
      ['Content-Type', 'application/sdp'],
    ],
    body: sdp,
  });
  const dialledMs = since();
  const marks: { alert: Ms | null; connect: Ms | null; end: Ms | null; busy: boolean } = {
    alert: null,
    connect: null,
    end: null,
    busy: false,
  };
  let leg: OutLeg = NO_LEG;
  let callOff: () => void = () => undefined;
  const finish = (why: string | null, isOurs: boolean) => {
    if (marks.end !== null) return;
    marks.end = since();
    callOff();
    giveBack();
    leg.end();
    if (!isOurs) watch.onOver(why);
  };
  callOff = clock.after(THEIRS_MS, () => finish('The number did not answer.', false));
  callOut(
    host,
    [{ uri: `sip:${out.number}@${carrier.host}:${carrier.port};user=phone`, to: carrier }],
    out.isWithheld ? ANONYMOUS : (shown ?? ANONYMOUS),
    {
      onAlert: () => (marks.alert ??= since()),
      onAnswer: () => {
        marks.connect = since();
        callOff();
        const mostMs = Math.min(LONGEST_MS, out.mostMs ?? LONGEST_MS);
        callOff = clock.after(mostMs, () => finish(USED_UP, false));
        leg.say(`hello, ${out.extension} is calling`, SAID_PACKETS);
        watch.onAnswer();
      },
      onFail: (how) => {
        marks.busy = how === 'busy';
        finish(how === 'busy' || how === 'rejected' ? FAILED[how] : 'The number cannot be reached.', false);
      },
      onKey: () => undefined,
      onPacket: watch.onPacket,
      onBye: () => finish(null, false),
    },
    ...(out.isWithheld ? [withheld] : []),
  ).then(
    (placed) => {
      leg = placed;
      if (marks.end !== null) placed.end();
    },
    () => finish('The call could not be placed.', false),
  );
  return {
    relay: (bytes) => {
      if (marks.connect !== null && marks.end === null) leg.relay(bytes);
    },
    isBye: (bye, from) => leg.isBye(bye, from),
    end: () => finish(null, true),
    recorded: () => {
      const { alert, connect, end, busy } = marks;
      const endMs = end ?? since();
      return {
        outcome: connect !== null ? 'answered' : 'unanswered',
        atMs: connect ?? endMs,
        ...(connect === null ? {} : { answeredBy: out.number }),
        talkMs: connect === null ? 0 : endMs - connect,
        legs: [
          {
            endpoint: out.number,
            dialledMs,
            alertMs: alert,
            ...(connect === null ? {} : { answerMs: connect }),
            endMs: connect ?? endMs,
            end: connect !== null ? 'connected' : busy ? 'busy' : 'no-answer',
          },
        ],
      };
    },
  };
}
