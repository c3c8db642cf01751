import { dueHeap } from './heap';
import { measured, type Measured } from './measure';
import { randomFrom } from './random';
import type { QueueLoad } from '../statistics';

export interface FifoAnswer {
  readonly waits: Measured;
  /** Of all calls offered, those who give up too, s. */
  readonly waitS: Measured;
  readonly within: Measured;
  readonly abandoned: Measured;
}

/** The first tenth is not counted: it begins with nobody there. */
const WARM_UP = 0.1;

/**
 * Calls that are answered first in, first out, by the first server that is free: what Erlang's formulas describe, tried
 * out. Times between calls, times of calls and patience are exponential.
 */
export function fifoRun(
  { callsPerHour, handleS, servers, withinS = 20, patienceS }: QueueLoad,
  calls: number,
  seed: number,
): FifoAnswer {
  const random = randomFrom(seed);
  const free = dueHeap<null>();
  for (let n = 0; n < servers; n += 1) free.put(0, null);
  const [waits, waitS, within, abandoned]: number[][] = [[], [], [], []];
  const skipped = Math.floor(calls * WARM_UP);
  let at = 0;
  for (let n = 0; n < calls; n += 1) {
    at += random.exponential(3600 / callsPerHour);
    const patience = patienceS === undefined ? Number.POSITIVE_INFINITY : random.exponential(patienceS);
    const server = free.take()!;
    const wait = Math.max(0, server.at - at);
    const isLost = wait > patience;
    free.put(isLost ? server.at : at + wait + random.exponential(handleS), null);
    if (n < skipped) continue;
    waits!.push(wait > 0 ? 1 : 0);
    waitS!.push(Math.min(wait, patience));
    within!.push(!isLost && wait <= withinS ? 1 : 0);
    abandoned!.push(isLost ? 1 : 0);
  }
  return {
    waits: measured(waits!),
    waitS: measured(waitS!),
    within: measured(within!),
    abandoned: measured(abandoned!),
  };
}
