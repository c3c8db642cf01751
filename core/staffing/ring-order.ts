import type { GroupMode, Ms } from '../estate';

/** A seat that can take a call now. */
export interface ReadySeat {
  /** Its place among the members. */
  readonly nth: number;
  readonly rank: number;
  readonly idleMs: Ms;
  readonly ringMs: Ms;
}
/** Seats that ring together, and for how long. */
export interface RingStep {
  readonly seats: readonly number[];
  readonly ringMs: Ms;
}

const isIdler = (a: ReadySeat, b: ReadySeat) =>
  a.idleMs > b.idleMs || (a.idleMs === b.idleMs && a.nth < b.nth);

/** Whether one seat rings before another, where they ring one after the other. */
function isBefore(mode: Exclude<GroupMode, 'simultaneous'>, last: number | null) {
  const hasPassed = ({ nth }: ReadySeat) => last !== null && nth <= last;
  return (a: ReadySeat, b: ReadySeat): boolean => {
    switch (mode) {
      case 'linear':
        return a.nth < b.nth;
      case 'circular':
        return hasPassed(a) === hasPassed(b) ? a.nth < b.nth : !hasPassed(a);
      case 'longest-idle':
        return isIdler(a, b);
      case 'by-rank':
        return a.rank < b.rank || (a.rank === b.rank && isIdler(a, b));
    }
  };
}

/**
 * The seats that one round of a group rings, in their order, as the reach model has it (sections 3.13 and 3 of desks and
 * seats), one step after another. The engine says the same; this is for a run of many thousand calls, most of which are
 * answered at the first step.
 * @param last the place of the member that answered last
 * @returns a function that gives the next step; null: the round is over
 */
export function ringSteps(
  mode: GroupMode,
  groupRingMs: Ms,
  ready: readonly ReadySeat[],
  last: number | null,
): () => RingStep | null {
  if (mode === 'simultaneous') {
    const seats = ready.map(({ nth }) => nth).sort((a, b) => a - b);
    let isRung = seats.length === 0;
    return () => {
      if (isRung) return null;
      isRung = true;
      return { seats, ringMs: groupRingMs };
    };
  }
  const left = [...ready];
  const before = isBefore(mode, last);
  return () => {
    let first = 0;
    for (let at = 1; at < left.length; at += 1) if (before(left[at]!, left[first]!)) first = at;
    const seat = left[first];
    if (!seat) return null;
    left[first] = left[left.length - 1]!;
    left.pop();
    return { seats: [seat.nth], ringMs: mode === 'by-rank' ? seat.ringMs : groupRingMs };
  };
}
