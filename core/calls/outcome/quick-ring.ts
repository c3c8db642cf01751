import { type FailureWord } from '../engine';
import type { QuickTarget } from './quick-compile';
import { isRegisteredIn, runLeg } from './quick-leg';
import { THROUGH, OVER, ENDED, NEVER, end, wait, type QuickState } from './quick-state';

export function takesPart(state: QuickState, target: QuickTarget, forMs: number): boolean {
  if (target.delayMs >= forMs || (target.arrivals & state.arrival) === 0) return false;
  if (target.clock !== null && target.clock.inside(state.start + state.now) !== target.inside) return false;
  const { whileRegistered, unlessRegistered } = target;
  if (
    whileRegistered >= 0 &&
    !isRegisteredIn(state.world, whileRegistered, state.quick.slots[whileRegistered]!)
  )
    return false;
  return (
    unlessRegistered < 0 ||
    !isRegisteredIn(state.world, unlessRegistered, state.quick.slots[unlessRegistered]!)
  );
}

export function take(state: QuickState, targets: readonly QuickTarget[], forMs: number): void {
  for (let i = 0; i < targets.length; i += 1) {
    const target = targets[i]!;
    if (takesPart(state, target, forMs)) {
      state.part[state.parts] = target;
      state.parts += 1;
    }
  }
}

/** Whether the outside legs of the stage could want more channels than some trunk of theirs has free. */
function competes(state: QuickState): boolean {
  let outside = 0;
  for (let i = 0; i < state.parts; i += 1) if (state.part[i]!.trunks.length > 0) outside += 1;
  if (outside === 0) return false;
  for (let i = 0; i < state.parts; i += 1) {
    const first = state.part[i]!.trunks[0];
    if (first !== undefined && state.channels[first]! - state.world.trunkUse[first]! < outside) return true;
  }
  return false;
}

/** Takes a channel for a leg dialled at a moment; why not, or null. */
function takeChannel(state: QuickState, target: QuickTarget, dialMs: number): FailureWord | null {
  for (const trunk of target.trunks) {
    let inUse = state.world.trunkUse[trunk]!;
    for (let i = 0; i < state.heldCount; i += 1)
      if (state.heldTrunk[i] === trunk && state.heldUntil[i]! > dialMs) inUse += 1;
    if (inUse >= state.channels[trunk]!) continue;
    state.heldTrunk[state.heldCount] = trunk;
    return null;
  }
  return 'no-channel';
}

/** Whether the leg just worked out connects before the best one so far, by the order of an instant. */
function beats(state: QuickState, at: number, atDialling: boolean): boolean {
  if (state.leg.connectMs !== state.bestMs) return state.leg.connectMs < state.bestMs;
  if (atDialling !== state.bestAtDialling) return state.bestAtDialling;
  if (!atDialling && state.leg.byVoicemail !== state.bestVoicemail) return state.bestVoicemail;
  return at < state.bestAt;
}

function workOut(
  state: QuickState,
  at: number,
  stageStart: number,
  stageEnd: number,
  competing: boolean,
): void {
  const target = state.part[at]!;
  const dialMs = stageStart + target.delayMs;
  let refused = target.refused;
  const wantsChannel = competing && refused === null && target.trunks.length > 0 && dialMs < state.queueEnd;
  if (wantsChannel) refused = takeChannel(state, target, dialMs);
  runLeg(
    state.world,
    state.quick.slots[target.slot]!,
    target,
    refused,
    dialMs,
    stageEnd,
    state.queueEnd,
    state.settings.confirmWithinMs,
    state.leg,
  );
  if (wantsChannel && refused === null) {
    state.heldUntil[state.heldCount] = state.leg.connectMs === NEVER ? state.leg.endMs : state.leg.connectMs;
    state.heldCount += 1;
  }
  if (state.leg.connectMs === NEVER) {
    if (state.leg.endMs > state.stageOverMs) state.stageOverMs = state.leg.endMs;
    return;
  }
  const atDialling = state.leg.connectMs === dialMs;
  if (!beats(state, at, atDialling)) return;
  state.bestMs = state.leg.connectMs;
  state.bestAtDialling = atDialling;
  state.bestVoicemail = state.leg.byVoicemail;
  state.bestAt = at;
}

/** Runs a ring stage with the targets that `take` has gathered. */
export function ring(state: QuickState, forMs: number): number {
  if (state.now >= state.queueEnd) return OVER;
  if (!state.named && state.parts > 0) {
    let asks = false;
    for (let i = 0; i < state.parts; i += 1) if (state.part[i]!.asksName) asks = true;
    if (asks) {
      const until = state.now + state.settings.recordNameMs;
      if (wait(state, Math.min(until, state.queueEnd))) return ENDED;
      if (state.queueEnd < until) return OVER;
      state.named = true;
    }
  }
  const began = state.now;
  state.bestMs = NEVER;
  state.bestAt = -1;
  state.stageOverMs = began;
  if (state.parts > 1 && competes(state)) ringCompeting(state, began, forMs);
  else {
    const competing = state.parts === 1 && competes(state);
    state.heldCount = 0;
    for (let i = 0; i < state.parts; i += 1) workOut(state, i, began, began + forMs, competing);
  }
  if (state.bestAt >= 0) {
    if (wait(state, state.bestMs)) return ENDED;
    const { slot, plays } = state.part[state.bestAt]!;
    if (plays !== null) return end(state, 'played', -1, -1, plays);
    return end(state, state.bestVoicemail ? 'carrier-voicemail' : 'answered', state.owners[slot]!, slot, '');
  }
  if (state.stageOverMs > began && wait(state, state.stageOverMs)) return ENDED;
  return state.now >= state.queueEnd ? OVER : THROUGH;
}

/** Where channels are short, legs are worked out in the order in which they are dialled. */
function ringCompeting(state: QuickState, began: number, forMs: number): void {
  if (state.heldTrunk.length < state.parts) {
    state.heldTrunk = new Int32Array(state.parts * 2);
    state.heldUntil = new Float64Array(state.parts * 2);
  }
  state.heldCount = 0;
  let lastDelay = -1;
  let lastAt = -1;
  for (let done = 0; done < state.parts; done += 1) {
    let next = -1;
    for (let i = 0; i < state.parts; i += 1) {
      const { delayMs } = state.part[i]!;
      if (delayMs < lastDelay || (delayMs === lastDelay && i <= lastAt)) continue;
      if (next < 0 || delayMs < state.part[next]!.delayMs) next = i;
    }
    lastDelay = state.part[next]!.delayMs;
    lastAt = next;
    if (state.bestMs < began + lastDelay) break;
    workOut(state, next, began, began + forMs, true);
  }
}
