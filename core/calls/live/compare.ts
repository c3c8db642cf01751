import type { Ms } from '../../estate';
import type { Leg, Outcome, Trace } from '../engine';

/** One thing in which a call that was placed departs from the one that was computed. */
export interface Departure {
  readonly what: 'outcome' | 'who' | 'end-time' | 'leg-missing' | 'leg-extra' | 'leg-end' | 'leg-time';
  /** The leg's endpoint; left out for the call as a whole. */
  readonly endpoint?: string;
  readonly predicted: string;
  readonly seen: string;
}

const who = (outcome: Outcome): string =>
  ['endpoint', 'person', 'reason', 'message']
    .flatMap((key) => {
      const value = (outcome as unknown as Record<string, string | undefined>)[key];
      return value === undefined ? [] : [value];
    })
    .join(' ');

/** Legs that start at one instant may be seen in either order: they are matched by endpoint, in turn. */
function matched(predicted: readonly Leg[], seen: readonly Leg[]): (readonly [Leg | null, Leg | null])[] {
  const left = [...seen];
  const pairs: (readonly [Leg | null, Leg | null])[] = predicted.map((leg) => {
    const at = left.findIndex((each) => each.endpoint === leg.endpoint);
    return [leg, at < 0 ? null : left.splice(at, 1)[0]!] as const;
  });
  return [...pairs, ...left.map((leg) => [null, leg] as const)];
}

/**
 * What a call that was placed did otherwise than the model said.
 * @param toleranceMs how far a moment may be off and still count as the same
 */
export function compareTraces(predicted: Trace, seen: Trace, toleranceMs: Ms): readonly Departure[] {
  const found: Departure[] = [];
  const off = (a: Ms | null, b: Ms | null) =>
    a === null || b === null ? a !== b : Math.abs(a - b) > toleranceMs;
  const said = (ms: Ms | null) => (ms === null ? 'never' : `${ms} ms`);
  const [a, b] = [predicted.outcome, seen.outcome];
  if (a.kind !== b.kind) found.push({ what: 'outcome', predicted: a.kind, seen: b.kind });
  else if (who(a) !== who(b)) found.push({ what: 'who', predicted: who(a), seen: who(b) });
  if (off(a.atMs, b.atMs)) found.push({ what: 'end-time', predicted: said(a.atMs), seen: said(b.atMs) });
  for (const [wanted, had] of matched(predicted.legs, seen.legs)) {
    const endpoint = (wanted ?? had)!.endpoint;
    if (!had) found.push({ what: 'leg-missing', endpoint, predicted: wanted!.end, seen: 'not dialled' });
    else if (!wanted) found.push({ what: 'leg-extra', endpoint, predicted: 'not dialled', seen: had.end });
    else {
      if (wanted.end !== had.end)
        found.push({ what: 'leg-end', endpoint, predicted: wanted.end, seen: had.end });
      for (const key of ['dialledMs', 'alertMs', 'endMs'] as const)
        if (off(wanted[key], had[key]))
          found.push({
            what: 'leg-time',
            endpoint,
            predicted: `${LEG_TIMES[key]} at ${said(wanted[key])}`,
            seen: `${LEG_TIMES[key]} at ${said(had[key])}`,
          });
    }
  }
  return found;
}

const LEG_TIMES = { dialledMs: 'dialled', alertMs: 'rings', endMs: 'ends' } as const;
