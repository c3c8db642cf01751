import type { Ms } from '../../estate';
import type { DetailedRun } from './run';

/** The stretches of a call in which the caller hears something: a phone ringing, a greeting, a prompt, a queue. */
export function heardIn({ trace, bands }: DetailedRun): readonly (readonly [Ms, Ms])[] {
  const all: (readonly [Ms, Ms])[] = [];
  for (const { alertMs, endMs } of trace.legs) if (alertMs !== null) all.push([alertMs, endMs]);
  for (const { kind, fromMs, toMs } of bands) if (kind !== 'ring') all.push([fromMs, toMs]);
  return all.sort((a, b) => a[0] - b[0]);
}

/** The longest stretch of a call in which the caller hears nothing: its beginning and end, in ms. */
export function longestSilence(run: DetailedRun): readonly [Ms, Ms] {
  let heardUntil = 0;
  let longest: readonly [Ms, Ms] = [0, 0];
  const silent = (from: Ms, to: Ms) => {
    if (to - from > longest[1] - longest[0]) longest = [from, to];
  };
  for (const [from, to] of heardIn(run)) {
    silent(heardUntil, from);
    heardUntil = Math.max(heardUntil, to);
  }
  silent(heardUntil, run.trace.outcome.atMs);
  return longest;
}
