import {
  isBeforeGuard,
  type KnownEndpoint,
  ENDPOINT_STATES,
  type EndpointState,
  type FailureWord,
  type LegEnd,
} from '../engine';
import type { QuickTarget } from './quick-compile';

const NEVER = Infinity;

/** The state of an endpoint as a small number, for arrays. */
export const stateCode = (state: EndpointState): number => ENDPOINT_STATES.indexOf(state);
const READY = stateCode('ready');
const UNREGISTERED = stateCode('unregistered');
const ASLEEP = stateCode('asleep');
const OFF = stateCode('off');
const BUSY = stateCode('busy');
const DO_NOT_DISTURB = stateCode('do-not-disturb');

/**
 * How everything behaves in one call, in arrays by the place of an endpoint, person or trunk. Times in ms; NaN is the
 * estate's own value, Infinity never.
 */
export interface QuickWorld {
  readonly state: Uint8Array;
  readonly setupMs: Float64Array;
  readonly answerAfterMs: Float64Array;
  readonly rejectAfterMs: Float64Array;
  readonly mailboxAfterMs: Float64Array;
  readonly offAnswerMs: Float64Array;
  readonly pressAfterMs: Float64Array;
  readonly refuseAfterMs: Float64Array;
  readonly activeCalls: Float64Array;
  readonly trunkUse: Float64Array;
}

/** What one leg comes to if nothing else ends it, filled in by `runLeg`. */
export interface LegResult {
  /** When it connects; Infinity: it does not. */
  connectMs: number;
  byVoicemail: boolean;
  /** When it ends without connecting. */
  endMs: number;
  /** Why it ends. */
  word: LegEnd;
}

export function isRegisteredIn(world: QuickWorld, slot: number, known: KnownEndpoint): boolean {
  const state = world.state[slot]!;
  if (state === UNREGISTERED || state === OFF) return false;
  return state !== ASLEEP || known.times.wakes;
}

const own = (value: number, fallback: number) => (Number.isNaN(value) ? fallback : value);
const ended = (result: LegResult, endMs: number, word: LegEnd) => {
  result.connectMs = NEVER;
  result.endMs = endMs;
  result.word = word;
};

/** The first of some moments that are due, by the order of an instant: earlier ones in the list come first. */
const ANSWER = 0;
const REJECT = 1;
const FAIL = 2;
const VOICEMAIL = 3;
const GIVE_UP = 4;

/**
 * Works out one leg by itself (reach model, section 3, steps 5 and 6).
 * @param refused why it cannot be dialled, null if it can
 * @param stageEndMs the end of its stage @param queueEndMs the end of the queue around it, Infinity: none
 */
export function runLeg(
  world: QuickWorld,
  known: KnownEndpoint,
  target: QuickTarget,
  refused: FailureWord | null,
  dialMs: number,
  stageEndMs: number,
  queueEndMs: number,
  confirmWithinMs: number,
  result: LegResult,
): void {
  const { slot } = target;
  const state = world.state[slot]!;
  const isNumber = known.number !== null;
  const isApp = known.endpoint.kind === 'mobile-app';
  result.byVoicemail = false;
  if (dialMs >= queueEndMs) return ended(result, queueEndMs, 'no-answer');
  if (target.plays !== null) {
    result.connectMs = dialMs;
    result.endMs = dialMs;
    return;
  }
  if (refused !== null) return ended(result, dialMs, refused);
  if (
    state === UNREGISTERED ||
    (state === OFF && !isNumber) ||
    (state === ASLEEP && isApp && !known.times.wakes)
  )
    return ended(result, dialMs, 'unregistered');

  const readyAt =
    dialMs +
    own(world.setupMs[slot]!, known.times.setupMs) +
    (state === ASLEEP && isApp ? known.times.wakeMs : 0);
  const mailboxAfter = isNumber
    ? own(world.mailboxAfterMs[slot]!, known.times.mailboxAfterMs ?? NEVER)
    : NEVER;

  let at = dialMs + target.giveUpAfterMs;
  let what = GIVE_UP;
  if (state === OFF || state === BUSY) {
    const voicemail = mailboxAfter !== NEVER;
    const silent = voicemail ? dialMs + own(world.offAnswerMs[slot]!, known.times.offAnswerMs) : readyAt;
    if (silent <= at) {
      at = silent;
      what = voicemail ? VOICEMAIL : FAIL;
    }
  } else if (state === DO_NOT_DISTURB) {
    const next = isNumber ? readyAt + mailboxAfter : readyAt;
    if (next <= at) {
      at = next;
      what = isNumber ? VOICEMAIL : FAIL;
    }
  } else {
    const takesAll = state !== READY && state !== ASLEEP;
    const answer = takesAll ? readyAt : readyAt + world.answerAfterMs[slot]!;
    const reject = takesAll ? NEVER : readyAt + world.rejectAfterMs[slot]!;
    const voicemail = takesAll ? NEVER : readyAt + mailboxAfter;
    if (voicemail <= at) {
      at = voicemail;
      what = VOICEMAIL;
    }
    if (reject <= at) {
      at = reject;
      what = REJECT;
    }
    if (answer <= at) {
      at = answer;
      what = ANSWER;
    }
  }
  const cutMs = stageEndMs < queueEndMs ? stageEndMs : queueEndMs;
  if (at > cutMs || at === NEVER) return ended(result, cutMs, 'no-answer');
  if (what === GIVE_UP) return ended(result, at, 'given-up');
  if (what === REJECT) return ended(result, at, 'rejected');
  if (what === FAIL)
    return ended(result, at, state === OFF ? 'unreachable' : state === BUSY ? 'busy' : 'do-not-disturb');
  if (isBeforeGuard(at - dialMs, target)) return ended(result, at, 'before-guard');
  result.byVoicemail = what === VOICEMAIL;
  if (!target.confirm) {
    result.connectMs = at;
    result.endMs = at;
    return;
  }
  confirmLeg(world, slot, at, queueEndMs, confirmWithinMs, result);
}

function confirmLeg(
  world: QuickWorld,
  slot: number,
  answeredMs: number,
  queueEndMs: number,
  withinMs: number,
  result: LegResult,
): void {
  const dropMs = answeredMs + withinMs;
  const press = result.byVoicemail ? NEVER : answeredMs + world.pressAfterMs[slot]!;
  const refuse = result.byVoicemail ? NEVER : answeredMs + world.refuseAfterMs[slot]!;
  const first = Math.min(press, refuse, dropMs);
  if (first > queueEndMs) return ended(result, queueEndMs, 'no-answer');
  if (press === first) {
    result.connectMs = press;
    result.endMs = press;
    return;
  }
  ended(result, first, refuse === first ? 'refused' : 'not-confirmed');
}
