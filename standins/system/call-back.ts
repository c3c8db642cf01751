import type { CallRecord, RecordedLeg } from '../../core/records';
import type { E164, Ms } from '../../core/estate';
import { takeChannel } from './channels';
import { confirming } from './confirm';
import { callOut, type LegContent, type LegWatch, type OutLeg } from './leg';
import type { CallBack, CallBackAt, CallHost, LiveCall } from './types';

const RING_MS: Ms = 25_000;
const CONFIRM_MS: Ms = 12_000;
const THEIRS_MS: Ms = 60_000;
const LONGEST_MS: Ms = 4 * 3_600_000;
const SAID_PACKETS = 5;

/** Calls a mobile, asks for a key there, calls the number and connects the two. @param onStep told of each step */
export function placeCallBack(
  host: CallHost,
  order: CallBack,
  onStep: (at: CallBackAt) => void,
): LiveCall | null {
  const { clock, carrier, keep } = host.options;
  const beganMs = clock.now();
  const startMs = Date.now();
  const since = () => Math.max(0, Math.round(clock.now() - beganMs));
  const taken: (() => void)[] = [];
  let own: OutLeg | null = null;
  let theirs: OutLeg | null = null;
  let over = false;
  let press: ((key: string) => void) | null = null;
  let callOff: () => void = () => undefined;
  const marks: Record<'alert' | 'answer' | 'accept' | 'dial' | 'theirAlert' | 'connect', Ms | null> = {
    alert: null,
    answer: null,
    accept: null,
    dial: null,
    theirAlert: null,
    connect: null,
  };
  const anonymous = '"Anonymous" <sip:anonymous@anonymous.invalid>';
  const shown =
    order.callerId === null ? null : `<sip:${order.callerId}@${host.options.realm ?? host.options.address}>`;
  /** Withheld from whoever is called, the carrier is told all the same who calls (RFC 3323, RFC 3325). */
  const withheld = (sdp: string): LegContent => ({
    headers: [
      ...(shown === null ? [] : [['P-Asserted-Identity', shown] as const]),
      ['Privacy', 'id'],
      ['Content-Type', 'application/sdp'],
    ],
    body: sdp,
  });

  const within = (ms: Ms, why: string | null) => {
    callOff();
    callOff = clock.after(ms, () => finish(why));
  };
  function dial(number: E164, watch: LegWatch, then: (leg: OutLeg) => void, isWithheld = false): boolean {
    const giveBack = carrier ? takeChannel(host, number) : null;
    if (!giveBack || !carrier) {
      finish('No channel was free.');
      return false;
    }
    taken.push(giveBack);
    callOut(
      host,
      [{ uri: `sip:${number}@${carrier.host}:${carrier.port};user=phone`, to: carrier }],
      isWithheld ? anonymous : (shown ?? anonymous),
      watch,
      ...(isWithheld ? [withheld] : []),
    ).then(
      (leg) => {
        then(leg);
        if (over) leg.end();
      },
      () => finish('The call could not be placed.'),
    );
    return true;
  }
  function finish(why: string | null): void {
    if (over) return;
    over = true;
    callOff();
    // Without a channel nothing was called.
    const record = taken.length > 0 ? recordOf(order, startMs, marks, since()) : null;
    const end = () => {
      own?.end();
      theirs?.end();
      onStep({ step: 'over', why });
    };
    for (const giveBack of taken) giveBack();
    if (keep && record) void keep(record).then(end, end);
    else end();
  }
  function callThem(): void {
    marks.accept = marks.dial = since();
    onStep({ step: 'calls-them', why: null });
    within(THEIRS_MS, 'The number did not answer.');
    dial(
      order.number,
      {
        onAlert: () => (marks.theirAlert ??= since()),
        onAnswer: () => {
          marks.connect = since();
          within(LONGEST_MS, null);
          theirs?.say(`hello, ${order.extension} is calling`, SAID_PACKETS);
          onStep({ step: 'talks', why: null });
        },
        onFail: (how) => {
          own?.say(how, SAID_PACKETS);
          finish(
            how === 'busy'
              ? 'The number is busy.'
              : how === 'rejected'
                ? 'The call was rejected.'
                : 'The number cannot be reached.',
          );
        },
        onKey: () => undefined,
        onPacket: (bytes) => own?.relay(bytes),
        onBye: () => finish(null),
      },
      (leg) => {
        theirs = leg;
      },
      order.isWithheld,
    );
  }

  onStep({ step: 'rings-you', why: null });
  within(RING_MS, 'Your phone was not answered.');
  const placed = dial(
    order.mobile,
    {
      onAlert: () => (marks.alert ??= since()),
      onAnswer: (byMachine) => {
        marks.answer = since();
        if (byMachine) return finish('A voicemail answered at your phone.');
        onStep({ step: 'asks-key', why: null });
        within(CONFIRM_MS, 'No key was pressed at your phone.');
        press = confirming({
          how: 'key',
          person: order.person,
          at: order.endpoint,
          pins: undefined,
          isOpen: () => !over && marks.accept === null,
          caller: order.number,
          say: (text) => own?.say(text, SAID_PACKETS),
          onAccept: callThem,
          onRefuse: () => finish('You did not take the call.'),
        });
      },
      onFail: (how) => finish(how === 'busy' ? 'Your phone is busy.' : 'Your phone cannot be reached.'),
      onKey: (key) => press?.(key),
      onPacket: (bytes) => theirs?.relay(bytes),
      onBye: () => finish(marks.connect === null ? 'You hung up.' : null),
    },
    (leg) => {
      own = leg;
    },
  );
  if (!placed) return null;
  return {
    id: order.id,
    takesBye: (bye, peer) => (own?.isBye(bye, peer) ?? false) || (theirs?.isBye(bye, peer) ?? false),
    close: () => finish('The phone system ended.'),
  };
}

/** A call back as call records have it: both legs, as one call from the person to the number. */
function recordOf(
  { id, extension, endpoint, number }: CallBack,
  startMs: number,
  marks: Readonly<Record<'alert' | 'answer' | 'accept' | 'dial' | 'theirAlert' | 'connect', Ms | null>>,
  overMs: Ms,
): CallRecord {
  const { alert, answer, accept, dial, theirAlert, connect } = marks;
  const own: RecordedLeg = {
    endpoint,
    dialledMs: 0,
    alertMs: alert,
    ...(answer === null ? {} : { answerMs: answer }),
    endMs: accept ?? overMs,
    end: accept !== null ? 'connected' : answer !== null ? 'not-confirmed' : 'no-answer',
  };
  const theirs: readonly RecordedLeg[] =
    dial === null
      ? []
      : [
          {
            endpoint: number,
            dialledMs: dial,
            alertMs: theirAlert,
            ...(connect === null ? {} : { answerMs: connect }),
            endMs: connect ?? overMs,
            end: connect === null ? 'no-answer' : 'connected',
          },
        ];
  return {
    id,
    startMs,
    from: extension,
    to: number,
    outcome: connect !== null ? 'answered' : dial !== null ? 'unanswered' : 'abandoned',
    atMs: connect ?? overMs,
    ...(connect === null ? {} : { answeredBy: number }),
    talkMs: connect === null ? 0 : overMs - connect,
    legs: [own, ...theirs],
    source: 'live',
  };
}
