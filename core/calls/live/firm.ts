import { xoroshiro128plus, unsafeUniformIntDistribution } from 'pure-rand';
import type { Ms } from '../../estate';
import { runInDetail, type Call, type EstateIndex, type EndpointBehaviour, type Seen } from '../engine';
import { worldOf } from './world';

/**
 * Whether a call ends the same, leg by leg, when everything in it comes a little late, each thing by a different
 * little: only then can it be placed for real and be expected to go as computed.
 * @param latestMs how late a thing may come
 */
export function isFirm(index: EstateIndex, call: Call, latestMs: Ms, runs = 60, seed = 7): boolean {
  const said = (seen: Seen | null) => {
    const { trace } = runInDetail(index, call, false, undefined, seen);
    const { outcome, legs, path } = trace;
    const order = legs.map((leg) => [leg.endpoint, leg.end]).sort();
    return JSON.stringify([{ ...outcome, atMs: 0 }, order, path]);
  };
  const wanted = said(null);
  const source = xoroshiro128plus(seed);
  const late = (): Ms => unsafeUniformIntDistribution(0, latestMs, source);
  for (let i = 0; i < runs; i += 1) {
    const world = worldOf(index, call);
    const kept = new Map<number, EndpointBehaviour>();
    const shift = (ms: Ms | null | undefined) => (ms === null || ms === undefined ? ms : ms + late());
    const seen: Seen = {
      ...world,
      leg: (nth, endpoint, dialledMs) => {
        const before = kept.get(nth);
        if (before) return before;
        const { times } = index.endpoints.get(endpoint) ?? { times: null };
        const given = world.leg(nth, endpoint, dialledMs);
        const setupMs = given.setupMs ?? times?.setupMs;
        const mailboxAfterMs =
          given.mailboxAfterMs === undefined ? times?.mailboxAfterMs : given.mailboxAfterMs;
        const offAnswerMs = given.offAnswerMs ?? times?.offAnswerMs;
        const behaviour: EndpointBehaviour = {
          ...given,
          ...(setupMs === undefined ? {} : { setupMs: setupMs + late() }),
          ...(mailboxAfterMs === undefined ? {} : { mailboxAfterMs: shift(mailboxAfterMs) ?? null }),
          ...(offAnswerMs === undefined ? {} : { offAnswerMs: offAnswerMs + late() }),
          answerAfterMs: shift(given.answerAfterMs) ?? null,
          rejectAfterMs: shift(given.rejectAfterMs) ?? null,
          refuseAfterMs: shift(given.refuseAfterMs) ?? null,
          pressAfterMs: given.pressAfterMs === null ? null : (given.pressAfterMs ?? 3000) + late(),
        };
        kept.set(nth, behaviour);
        return behaviour;
      },
      press: (id, fromMs, keys) => {
        const press = world.press(id, fromMs, keys);
        return press && { ...press, afterMs: press.afterMs + late() };
      },
      code: (fromMs, length) => {
        const code = world.code(fromMs, length);
        return code && { ...code, afterMs: code.afterMs + late() };
      },
    };
    if (said(seen) !== wanted) return false;
  }
  return true;
}
