import type { CallRecord, RecordedLeg } from '../../core/records';
import type { E164, Ms } from '../../core/estate';
import { takeChannel } from './channels';
import { confirming } from './confirm';
import { callOut } from './leg';
import type { OutLeg } from './leg-types';
import { placeIn, type PlacedIn } from './placed-in';
import { placeOut, type OutWatch, type PlacedOut } from './placed-out';
import { typingAt, type Typing } from './typing';
import type { CallBack, CallBackAt, CallBackStep, CallHost, CallOutAt, DialOut, LiveCall } from './types';

const RING_MS: Ms = 25_000;
const CONFIRM_MS: Ms = 12_000;
const SAID_PACKETS = 5;
const MOST_QUESTIONS = 6;
/** At an access number a pause ends what is typed, and the star begins anew. */
export const ACCESS_TYPING = { pauseMs: 4000, starClears: true } as const;

/** How far a call back has come, as calls out are told of. */
const OUT_STEP: Readonly<Record<Exclude<CallBackStep, 'over'>, CallOutAt['step']>> = {
  'rings-you': 'rings-own',
  'asks-key': 'rings-own',
  'asks-number': 'asks',
  'calls-them': 'rings',
  talks: 'talks',
};

/** Calls a mobile, asks for a key there, calls the number and connects the two. @param onStep told of each step */
export function placeCallBack(
  host: CallHost,
  order: CallBack,
  onStep: (at: CallBackAt) => void,
): LiveCall | null {
  const { clock, carrier, keep, onAccess } = host.options;
  const beganMs = clock.now();
  const startMs = Date.now();
  const since = () => Math.max(0, Math.round(clock.now() - beganMs));
  let own: OutLeg | null = null;
  let theirs: { readonly to: DialOut; readonly call: PlacedOut } | null = null;
  let inside: PlacedIn | null = null;
  let typing: Typing | null = null;
  let over = false;
  let press: ((key: string) => void) | null = null;
  let callOff: () => void = () => undefined;
  const marks: Record<'alert' | 'answer' | 'accept', Ms | null> = { alert: null, answer: null, accept: null };
  let hasTalked = false;

  let calledTo: E164 = order.number ?? order.mobile;
  /** Tells how far it has come; a call to an extension is told of by itself. */
  const stepTo = (step: Exclude<CallBackStep, 'over'>) => {
    if (!inside)
      host.tell({
        kind: 'call-out',
        id: order.id,
        at: {
          by: 'back',
          from: order.extension,
          to: calledTo,
          startMs,
          step: OUT_STEP[step],
          talksMs: step === 'talks' ? Date.now() : null,
        },
      });
    onStep({ step, why: null });
  };
  const within = (ms: Ms, why: string | null) => {
    callOff();
    callOff = clock.after(ms, () => finish(why));
  };
  const giveBack = carrier ? takeChannel(host, order.mobile) : null;
  function finish(why: string | null): void {
    if (over) return;
    over = true;
    callOff();
    typing?.stop();
    theirs?.call.end();
    inside?.end();
    // Without a channel nothing was called; a call to an extension has a record of its own.
    const record = giveBack && !inside ? recordOf(order, startMs, marks, theirs, since()) : null;
    const end = () => {
      own?.end();
      host.tell({ kind: 'call-out', id: order.id, at: null });
      onStep({ step: 'over', why });
    };
    giveBack?.();
    if (inside) inside.afterKept(end);
    else if (keep && record) void keep(record).then(end, end);
    else end();
  }
  const watch: OutWatch = {
    onAnswer: () => {
      hasTalked = true;
      stepTo('talks');
    },
    onPacket: (bytes) => own?.relay(bytes),
    onOver: (why) => {
      if (why !== null) own?.say(`told ${why}`, SAID_PACKETS);
      finish(why);
    },
  };
  function callThem(to: DialOut): void {
    callOff();
    calledTo = to.number;
    stepTo('calls-them');
    const placed = placeOut(host, to, since, watch);
    if (placed) theirs = { to, call: placed };
    else finish('No channel was free.');
  }
  /** Asks for the number at the mobile, as the access number does that was rung. */
  async function askNumber(access: string): Promise<void> {
    callOff();
    stepTo('asks-number');
    typing = typingAt(clock, ACCESS_TYPING);
    let typed: string | null = null;
    for (let question = 0; question < MOST_QUESTIONS && !over && onAccess; question += 1) {
      const { says, asks, dials, dialsIn } = await onAccess({
        call: order.id,
        access,
        from: order.mobile,
        // It was rung by us.
        isVerified: true,
        typed,
      });
      if (over) return;
      if (dials) return callThem(dials);
      if (dialsIn) {
        stepTo('calls-them');
        inside = placeIn(host, order.id, dialsIn, watch);
        return;
      }
      own?.say(`${asks ? 'ask' : 'told'} ${says}`, SAID_PACKETS);
      if (!asks) return finish(says);
      typed = await typing.next();
      if (typed === null) break;
    }
    finish('No number was typed.');
  }
  const onAccept = (): void => {
    marks.accept = since();
    if (order.number !== null)
      return callThem({
        person: order.person,
        extension: order.extension,
        number: order.number,
        callerId: order.callerId,
        isWithheld: order.isWithheld,
        mostMs: order.mostMs,
      });
    void askNumber(order.access ?? '').catch(() => finish('This did not work. Try again later.'));
  };

  stepTo('rings-you');
  within(RING_MS, 'Your phone was not answered.');
  if (!giveBack || !carrier) {
    finish('No channel was free.');
    return null;
  }
  callOut(
    host,
    [{ uri: `sip:${order.mobile}@${carrier.host}:${carrier.port};user=phone`, to: carrier }],
    order.callerId === null
      ? '"Anonymous" <sip:anonymous@anonymous.invalid>'
      : `<sip:${order.callerId}@${host.options.realm ?? host.options.address}>`,
    {
      onAlert: () => (marks.alert ??= since()),
      onAnswer: (byMachine) => {
        marks.answer = since();
        if (byMachine) return finish('A voicemail answered at your phone.');
        stepTo('asks-key');
        within(CONFIRM_MS, 'No key was pressed at your phone.');
        press = confirming({
          how: 'key',
          person: order.person,
          at: order.endpoint,
          pins: undefined,
          isOpen: () => !over && marks.accept === null,
          caller: order.number ?? 'your access number',
          say: (text) => own?.say(text, SAID_PACKETS),
          onAccept,
          onRefuse: () => finish('You did not take the call.'),
        });
      },
      onFail: (how) => finish(how === 'busy' ? 'Your phone is busy.' : 'Your phone cannot be reached.'),
      onKey: (key) => (typing && !theirs && !inside ? typing.key(key) : press?.(key)),
      onPacket: (bytes) => (inside ?? theirs?.call)?.relay(bytes),
      onBye: () => finish(hasTalked ? null : 'You hung up.'),
    },
  ).then(
    (leg) => {
      own = leg;
      if (over) leg.end();
    },
    () => finish('The call could not be placed.'),
  );
  return {
    id: order.id,
    takesBye: (bye, peer) => [own, theirs?.call, inside].some((leg) => leg?.isBye(bye, peer) ?? false),
    close: () => finish('The phone system ended.'),
  };
}

/** A call back as call records have it: both legs, as one call from the person to the number. */
function recordOf(
  { id, extension, endpoint, mobile, number }: CallBack,
  startMs: number,
  { alert, answer, accept }: Readonly<Record<'alert' | 'answer' | 'accept', Ms | null>>,
  theirs: { readonly to: DialOut; readonly call: PlacedOut } | null,
  overMs: Ms,
): CallRecord {
  const own: RecordedLeg = {
    endpoint,
    dialledMs: 0,
    alertMs: alert,
    ...(answer === null ? {} : { answerMs: answer }),
    endMs: accept ?? overMs,
    end: accept !== null ? 'connected' : answer !== null ? 'not-confirmed' : 'no-answer',
  };
  const base = { id, startMs, from: extension, source: 'live' as const };
  const to: E164 = theirs?.to.number ?? number ?? mobile;
  if (!theirs) return { ...base, to, outcome: 'abandoned', atMs: overMs, talkMs: 0, legs: [own] };
  const { legs, ...came } = theirs.call.recorded();
  return { ...base, to, ...came, legs: [own, ...legs] };
}
