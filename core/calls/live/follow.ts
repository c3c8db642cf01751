import { NO_SETTING, type SettingRef, type Confirm, type Ms } from '../../estate';
import {
  endpointAt,
  runInDetail,
  type Band,
  type Call,
  type EndpointBehaviour,
  type EstateIndex,
  type Leg,
  type LegEnd,
  NOT_DIALLED_ENDS,
  type Outcome,
  type Press,
  type Seen,
  type Trace,
  type World,
} from '../engine';

/** How a leg came to nothing, as its far end said. */
export type FarEnd = 'busy' | 'rejected' | 'unreachable' | 'do-not-disturb';

/** What a call that is really placed is to do next. `leg` counts the legs in the order dialled, from 0. */
export type Todo =
  | {
      readonly todo: 'dial';
      readonly leg: number;
      readonly endpoint: string;
      /** The public number to dial; null where the endpoint registers here, or is a URI. */
      readonly number: string | null;
    }
  /** A leg that ends without ever having been dialled: not permitted, no channel, not registered. */
  | { readonly todo: 'refuse'; readonly leg: number; readonly endpoint: string; readonly why: LegEnd }
  | { readonly todo: 'end'; readonly leg: number; readonly why: LegEnd }
  | { readonly todo: 'finish'; readonly outcome: Outcome };

/** What the caller hears at a moment: ringing, silence in a queue, or something that asks for keys. */
export interface Heard {
  readonly kind: Band['kind'] | 'nothing';
  readonly sinceMs: Ms;
  /** The setting behind it, as a path in the estate. */
  readonly setting: SettingRef;
  /** The menu that is heard; null: none is. */
  readonly menu: string | null;
}

export interface Look {
  readonly todo: readonly Todo[];
  readonly heard: Heard;
  /** The queue that the caller waits in, by the setting behind it, phones ringing or not; null: none. */
  readonly waits: string | null;
  /** When to look again if nothing happens before; null: the call has ended. */
  readonly nextMs: Ms | null;
}

/** What stands around the call, as it is now. */
export interface Surroundings {
  readonly isRegistered: (endpoint: string) => boolean;
  /** Channels of a trunk taken by other calls. */
  readonly channelsInUse: (trunk: string) => number;
  /** Other calls that a person has. */
  readonly activeCalls: (person: string) => number;
}

/** A call that is really placed, steered by the reach model. All times in ms since it arrived. */
export interface Following {
  readonly look: (nowMs: Ms) => Look;
  readonly alerted: (leg: number, atMs: Ms) => void;
  /** @param byVoicemail the far end said that it is a machine, or it answered without ever ringing */
  readonly answered: (leg: number, atMs: Ms, byVoicemail: boolean) => void;
  readonly accepted: (leg: number, atMs: Ms) => void;
  readonly refused: (leg: number, atMs: Ms) => void;
  readonly failed: (leg: number, atMs: Ms, how: FarEnd) => void;
  /** A key that the caller pressed. */
  readonly pressed: (key: string, atMs: Ms) => void;
  readonly callerGone: (atMs: Ms) => void;
  /** The trace so far, or, once the call has ended, the whole of it. */
  readonly trace: () => Trace;
  /** What a leg waits for its answer to be confirmed by; null: nothing. */
  readonly confirms: (leg: number) => Confirm;
  /** What was seen around the call that its legs do not tell: keys, people in other calls, full trunks. */
  readonly around: () => World;
  /** The number to be shown at a leg: a number of the organisation, or the caller's own. */
  readonly presents: (leg: number) => string;
}

interface Facts {
  readonly dialledMs: Ms;
  alertMs: Ms | null;
  answerMs: Ms | null;
  byVoicemail: boolean;
  acceptMs: Ms | null;
  refuseMs: Ms | null;
  failMs: Ms | null;
  how: FarEnd | null;
  isUnregistered: boolean;
}

const NEVER = Number.POSITIVE_INFINITY;

/** Nothing has been heard of it yet: it neither rings nor fails, however long one waits. */
const SILENT: EndpointBehaviour = {
  state: 'ready',
  setupMs: NEVER,
  answerAfterMs: null,
  rejectAfterMs: null,
  mailboxAfterMs: null,
};

const failedAs = (how: FarEnd, after: Ms, isNumber: boolean): EndpointBehaviour => {
  switch (how) {
    case 'busy':
      return { state: 'busy', setupMs: after, mailboxAfterMs: null };
    case 'unreachable':
      return isNumber ? { state: 'off', setupMs: after, mailboxAfterMs: null } : BUSY_AS(after);
    case 'do-not-disturb':
      return isNumber ? BUSY_AS(after) : { state: 'do-not-disturb', setupMs: after };
    case 'rejected':
      return { state: 'ready', setupMs: after, rejectAfterMs: 0, answerAfterMs: null, mailboxAfterMs: null };
  }
};
const BUSY_AS = (after: Ms): EndpointBehaviour => ({ state: 'busy', setupMs: after, mailboxAfterMs: null });

/** What is known of a leg, as the behaviour that would bring it about. */
function behaviourFrom(facts: Facts, isNumber: boolean): EndpointBehaviour {
  if (facts.isUnregistered) return { state: 'unregistered', mailboxAfterMs: null };
  const { dialledMs, alertMs, answerMs, failMs, how } = facts;
  const since = (atMs: Ms, fromMs: Ms) => Math.max(0, atMs - fromMs);
  if (answerMs !== null && alertMs === null && facts.byVoicemail && isNumber)
    return { state: 'off', setupMs: 0, mailboxAfterMs: 0, offAnswerMs: since(answerMs, dialledMs) };
  if (alertMs === null && answerMs === null)
    return failMs === null || how === null ? SILENT : failedAs(how, since(failMs, dialledMs), isNumber);
  const from = alertMs ?? answerMs!;
  return {
    state: 'ready',
    setupMs: since(from, dialledMs),
    answerAfterMs: answerMs !== null && !(facts.byVoicemail && isNumber) ? since(answerMs, from) : null,
    mailboxAfterMs: answerMs !== null && facts.byVoicemail && isNumber ? since(answerMs, from) : null,
    rejectAfterMs: failMs !== null && answerMs === null ? since(failMs, from) : null,
    pressAfterMs: facts.acceptMs === null || answerMs === null ? null : since(facts.acceptMs, answerMs),
    refuseAfterMs: facts.refuseMs === null || answerMs === null ? null : since(facts.refuseMs, answerMs),
  };
}

type Kept<T> = ReadonlyMap<string, T>;
/**
 * Answers a question about the surroundings once for each moment gone by, so that the past stays as it was.
 * `kept`: the first answer of each.
 */
function remembered<T>(put: (id: string) => T): {
  readonly ask: (id: string, atMs: Ms, nowMs: Ms) => T;
  readonly kept: Kept<T>;
} {
  const answers = new Map<string, T>();
  const first = new Map<string, T>();
  return {
    kept: first,
    ask: (id, atMs, nowMs) => {
      const key = `${atMs}/${id}`;
      const before = answers.get(key);
      if (before !== undefined) return before;
      const answer = put(id);
      if (atMs > nowMs) return answer;
      answers.set(key, answer);
      if (!first.has(id)) first.set(id, answer);
      return answer;
    },
  };
}

/**
 * Steers a call that is really placed by the reach model itself: what has been seen of each leg is given to the
 * engine as its world, and what the engine then has done by now is what is to be done. Nothing of the model is
 * written a second time.
 * @param call its world counts only for `groupLast` and `idleMs`
 */
export function followCall(index: EstateIndex, call: Call, around: Surroundings): Following {
  const legs: Facts[] = [];
  const told = new Set<number>();
  const presses: { readonly key: string; readonly atMs: Ms }[] = [];
  let nowMs = -1;
  let goneMs: Ms | null = null;
  let finished = false;
  const registered = remembered(around.isRegistered);
  const channels = remembered(around.channelsInUse);
  const active = remembered(around.activeCalls);
  const pressed = new Map<string, Press>();
  let entered: World['code'] | null = null;
  const isNumber = (endpoint: string) => {
    return endpointAt(index, endpoint).number !== null;
  };
  const seen: Seen = {
    leg: (nth, endpoint, dialledMs) => {
      const facts = legs[nth];
      if (facts) return behaviourFrom(facts, isNumber(endpoint));
      if (isNumber(endpoint) || registered.ask(endpoint, dialledMs, nowMs)) return SILENT;
      return { state: 'unregistered' };
    },
    isRegistered: (endpoint, atMs) => registered.ask(endpoint, atMs, nowMs),
    press: (id, fromMs, keys) => {
      const found = presses.find(({ key, atMs }) => atMs >= fromMs && keys.includes(key));
      if (!found) return null;
      const press = { key: found.key, afterMs: found.atMs - fromMs };
      pressed.set(id, press);
      return press;
    },
    code: (fromMs, length) => {
      const digits = presses.filter(({ key, atMs }) => atMs >= fromMs && /\d/.test(key)).slice(0, length);
      if (digits.length < length) return null;
      entered = {
        digits: digits.map(({ key }) => key).join(''),
        afterMs: digits[length - 1]!.atMs - fromMs,
      };
      return entered;
    },
    channelsInUse: (trunk, atMs) => channels.ask(trunk, atMs, nowMs),
    activeCalls: (person, atMs) => active.ask(person, atMs, nowMs),
  };
  const run = () => runInDetail(index, { ...call, patienceMs: goneMs }, finished, undefined, seen);
  /** What has been looked at stays as it was: what comes in now happened after it. */
  const after = (atMs: Ms) => Math.max(Math.round(atMs), nowMs + 1);
  const of = (leg: number): Facts | null => legs[leg] ?? null;

  function begin(nth: number, leg: Leg): Todo {
    const { endpoint, dialledMs } = leg;
    const notDialled = leg.endMs === dialledMs && NOT_DIALLED_ENDS.includes(leg.end);
    legs[nth] = {
      dialledMs,
      alertMs: null,
      answerMs: null,
      byVoicemail: false,
      acceptMs: null,
      refuseMs: null,
      failMs: null,
      how: null,
      isUnregistered: leg.end === 'unregistered' && notDialled,
    };
    if (notDialled) {
      told.add(nth);
      return { todo: 'refuse', leg: nth, endpoint, why: leg.end };
    }
    const { number } = endpointAt(index, endpoint);
    return { todo: 'dial', leg: nth, endpoint, number };
  }

  /** Answers that stood in the way of something, by whom they are of. */
  const above = (kept: Kept<number>): Record<string, number> =>
    Object.fromEntries([...kept].flatMap(([id, count]) => (count > 0 ? [[id, count]] : [])));

  return {
    around: () => ({
      ...call.world,
      ...(pressed.size > 0 ? { presses: Object.fromEntries(pressed) } : {}),
      ...(entered ? { code: entered } : {}),
      ...(active.kept.size > 0 ? { activeCalls: above(active.kept) } : {}),
      ...(channels.kept.size > 0 ? { trunkUse: above(channels.kept) } : {}),
      endpoints: Object.fromEntries(
        [...registered.kept].flatMap(([id, isThere]) => (isThere ? [] : [[id, { state: 'unregistered' }]])),
      ),
    }),
    look: (at) => {
      nowMs = Math.max(nowMs, Math.floor(at));
      const { trace, bands } = run();
      const todo: Todo[] = [];
      let nextMs = NEVER;
      const due = (atMs: Ms) => {
        if (atMs > nowMs) nextMs = Math.min(nextMs, atMs);
        return atMs <= nowMs;
      };
      trace.legs.forEach((leg, nth) => {
        if (!due(leg.dialledMs)) return;
        if (!legs[nth]) todo.push(begin(nth, leg));
        if (due(leg.endMs) && !told.has(nth)) {
          told.add(nth);
          todo.push({ todo: 'end', leg: nth, why: leg.end });
        }
      });
      for (const { fromMs, toMs } of bands) {
        due(fromMs);
        due(toMs);
      }
      const ended = due(trace.outcome.atMs);
      if (ended && !finished) {
        finished = true;
        todo.push({ todo: 'finish', outcome: trace.outcome });
      }
      const now = bands.findLast(
        ({ kind, fromMs, toMs }) => kind !== 'queue' && fromMs <= nowMs && nowMs < toMs,
      );
      const waits = bands.find(
        ({ kind, fromMs, toMs }) => kind === 'queue' && fromMs <= nowMs && nowMs < toMs,
      );
      const band = now ?? waits;
      return {
        todo,
        heard: {
          kind: band?.kind ?? 'nothing',
          sinceMs: band?.fromMs ?? nowMs,
          setting: band?.setting ?? NO_SETTING,
          menu: band?.menu ?? null,
        },
        waits: waits?.setting ?? null,
        nextMs: ended || nextMs === NEVER ? null : nextMs,
      };
    },
    alerted: (leg, atMs) => {
      const facts = of(leg);
      if (facts && !told.has(leg)) facts.alertMs ??= after(atMs);
    },
    answered: (leg, atMs, byVoicemail) => {
      const facts = of(leg);
      if (!facts || told.has(leg) || facts.answerMs !== null) return;
      facts.answerMs = after(atMs);
      facts.byVoicemail = byVoicemail;
    },
    accepted: (leg, atMs) => {
      const facts = of(leg);
      if (facts && facts.answerMs !== null) facts.acceptMs ??= after(atMs);
    },
    refused: (leg, atMs) => {
      const facts = of(leg);
      if (facts && facts.answerMs !== null) facts.refuseMs ??= after(atMs);
    },
    failed: (leg, atMs, how) => {
      const facts = of(leg);
      if (!facts || told.has(leg) || facts.failMs !== null) return;
      facts.failMs = after(atMs);
      facts.how = how;
    },
    pressed: (key, atMs) => {
      if (!finished) presses.push({ key, atMs: after(atMs) });
    },
    callerGone: (atMs) => {
      if (!finished) goneMs ??= after(atMs);
    },
    trace: () => soFar(run().trace, nowMs, finished),
    confirms: (leg) => (finished ? 'none' : (run().details[leg]?.target.confirm ?? 'none')),
    presents: (leg) => run().details[leg]?.target.present ?? 'caller',
  };
}

/** A trace without what has not happened yet. */
function soFar(trace: Trace, nowMs: Ms, finished: boolean): Trace {
  if (finished) return trace;
  return {
    ...trace,
    legs: trace.legs.filter((leg) => leg.dialledMs <= nowMs),
    events: trace.events.filter((event) => event.atMs <= nowMs),
  };
}
