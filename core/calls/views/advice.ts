import { endpointTimes, type Endpoint, type Ms, type RingTarget } from '../../estate';
import { isBeforeGuard, seconds } from '../engine';

/** The quickest a person can answer, from alerting. */
export const HUMAN_REACTION_MS: Ms = 1000;
/** The least ringing that a give-up must leave to a person. */
export const LEAST_RINGING_MS: Ms = 10_000;

/** The least and the most that a time may be, in ms. */
export interface MsRange {
  readonly least: Ms;
  readonly most: Ms;
}

/** What is known of a mobile's or landline's carrier. */
export interface CarrierTimes {
  /** From dialling to alerting. */
  readonly setup: MsRange;
  /** From dialling to the voicemail's answer when the phone is off. */
  readonly offAnswer: MsRange;
  /** From alerting to the voicemail's answer. */
  readonly pickUp: MsRange;
}

/** Whole ms from dialling, both ends included. */
export interface Window {
  readonly fromMs: Ms;
  readonly toMs: Ms;
}

export interface TimesAdvice {
  /** Guards that keep the voicemail of a phone that is off out, and let every person in; null: there is none. */
  readonly guard: Window | null;
  /** Give-ups that come before the voicemail's pick-up and leave enough ringing; null: there is none. */
  readonly giveUp: Window | null;
  /** A value of each window to take, in ms. */
  readonly take: { readonly guardMs: Ms; readonly giveUpMs: Ms } | null;
  readonly guardWhy: string;
  readonly giveUpWhy: string;
}

const around = (ms: Ms, spread: number): MsRange => ({
  least: Math.round(ms * (1 - spread)),
  most: Math.round(ms * (1 + spread)),
});

/**
 * A carrier's times as the estate has them for an endpoint; null where there is no carrier's voicemail to keep out.
 * @param spread how far the times may lie from those values: 0.2 is a fifth less to a fifth more
 */
export function carrierTimes(endpoint: Endpoint, spread = 0): CarrierTimes | null {
  const { setupMs, offAnswerMs, mailboxAfterMs } = endpointTimes(endpoint);
  if (endpoint.number === undefined || mailboxAfterMs === null) return null;
  return {
    setup: around(setupMs, spread),
    offAnswer: around(offAnswerMs, spread),
    pickUp: around(mailboxAfterMs, spread),
  };
}

const windowOf = (fromMs: Ms, toMs: Ms): Window | null => (fromMs <= toMs ? { fromMs, toMs } : null);
/** A round value inside a window, as near as can be to the one wished for. */
function roundIn({ fromMs, toMs }: Window, wished: Ms, step: Ms): Ms {
  const round = Math.floor(wished / step) * step;
  if (round >= fromMs && round <= toMs) return round;
  const first = Math.ceil(fromMs / step) * step;
  return first <= toMs ? first : toMs;
}

/**
 * The safe times for a mobile or landline with a carrier's voicemail (reach model, section 6). A guard works if it
 * lies above the largest off answer and at or below the smallest set-up and the quickest human reaction; giving up
 * works if it lies below the smallest set-up and pick-up, and leaves at least 10 s of ringing.
 */
export function adviseTimes({ setup, offAnswer, pickUp }: CarrierTimes): TimesAdvice {
  const guard = windowOf(offAnswer.most + 1, setup.least + HUMAN_REACTION_MS);
  const giveUp = windowOf(setup.most + LEAST_RINGING_MS, setup.least + pickUp.least - 1);
  const quickest = seconds(setup.least + HUMAN_REACTION_MS);
  const pickedUp = seconds(setup.least + pickUp.least);
  return {
    guard,
    giveUp,
    take:
      guard && giveUp
        ? {
            guardMs: roundIn(guard, (guard.fromMs + guard.toMs) / 2, 100),
            giveUpMs: roundIn(giveUp, giveUp.toMs - 500, 500),
          }
        : null,
    guardWhy: guard
      ? `Switched off, its voicemail answers up to ${seconds(offAnswer.most)} after dialling; a person cannot before ${quickest}.`
      : `Switched off, its voicemail may answer as late as ${seconds(offAnswer.most)} after dialling, and a person as early as ${quickest}: no answer guard tells them apart. Let whoever answers confirm with a key.`,
    giveUpWhy: giveUp
      ? `Its voicemail picks up from ${pickedUp} after dialling; the phone rings from ${seconds(setup.most)} at the latest.`
      : `Its voicemail may pick up at ${pickedUp} after dialling, before the person has had ${seconds(LEAST_RINGING_MS)} of ringing. Let whoever answers confirm with a key, or have the carrier's voicemail switched off.`,
  };
}

export type TimesFault = 'guard-low' | 'guard-high' | 'give-up-late' | 'give-up-early';

/**
 * What is wrong with a target's times; empty if they are safe. A stage that ends by itself before the pick-up needs
 * no give-up.
 * @param forMs how long its stage rings
 */
export function timesFaults(target: RingTarget, forMs: Ms, times: CarrierTimes): TimesFault[] {
  if ((target.confirm ?? 'none') !== 'none') return [];
  const faults: TimesFault[] = [];
  const endsAt = Math.min(target.giveUpAfterMs ?? Infinity, forMs - (target.delayMs ?? 0));
  if (!isBeforeGuard(times.offAnswer.most, target) && times.offAnswer.least <= endsAt)
    faults.push('guard-low');
  if (isBeforeGuard(times.setup.least + HUMAN_REACTION_MS, target)) faults.push('guard-high');
  if (endsAt >= times.setup.least + times.pickUp.least) faults.push('give-up-late');
  if (endsAt < times.setup.most + LEAST_RINGING_MS) faults.push('give-up-early');
  return faults;
}
