import type { ScheduleClock } from '../../calls/time';

/** A stretch of time in which schedules turn close enough to each other, or to a call, to count. */
export interface TurningTime {
  /** From here on a call can still be going on at the first turn. */
  readonly fromMs: number;
  readonly turns: readonly number[];
}

/** The moments of a span of time that can differ for a call, each kind of moment once. */
export interface Moments {
  /** One moment for each way in which the schedules can stand while none of them turns. */
  readonly steady: readonly number[];
  readonly turning: readonly TurningTime[];
}

/**
 * Sorts all moments of a span into those that cannot differ for a call: what counts is how each schedule stands, and
 * how far off the next turns are while a call can still meet them.
 * @param reachMs the longest that a call goes on looking at schedules
 */
export function momentsOf(
  clocks: readonly ScheduleClock[],
  fromMs: number,
  toMs: number,
  reachMs: number,
): Moments {
  const stand = (atMs: number) => clocks.map((clock) => (clock.inside(atMs) ? '1' : '0')).join('');
  const all = new Set<number>();
  for (const clock of clocks)
    for (let at = clock.nextChange(fromMs); at < toMs; at = clock.nextChange(at)) all.add(at);
  const turns = [...all].sort((a, b) => a - b);
  const steady = new Map<string, number>([[stand(fromMs), fromMs]]);
  const turning = new Map<string, TurningTime>();
  for (let i = 0; i < turns.length;) {
    const together = [turns[i]!];
    for (i += 1; i < turns.length && turns[i]! - together.at(-1)! <= reachMs; i += 1)
      together.push(turns[i]!);
    const first = together[0]!;
    const key = [stand(first - 1), ...together.map((turn) => `${turn - first}:${stand(turn)}`)].join(' ');
    if (!turning.has(key)) turning.set(key, { fromMs: first - reachMs, turns: together });
    const last = together.at(-1)!;
    if (!steady.has(stand(last))) steady.set(stand(last), last);
  }
  return { steady: [...steady.values()], turning: [...turning.values()] };
}

/**
 * The next moment at which a call would be different: where one of its looks at a schedule falls on another side of a
 * turn. Infinity: none.
 * @param reads the moments of the call, in ms, at which a schedule was looked at
 */
export function nextMoment(atMs: number, reads: Iterable<number>, turns: readonly number[]): number {
  let next = Infinity;
  for (const read of reads)
    for (const turn of turns) if (atMs + read < turn && turn - read < next) next = turn - read;
  return next;
}
