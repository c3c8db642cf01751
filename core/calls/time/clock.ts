import type { Zone } from 'luxon';
import type { Schedule } from '../../estate';
import { insideAtLocal, localBoundaries } from './local';
import { offsetChanges, zoneNamed } from '../../zones';

const DAY_MS = 86_400_000;
const CHUNK_MS = 16 * DAY_MS;
/** How far `nextChange` looks for a change: a schedule that is the same for so long is taken not to change. */
const LOOK_AHEAD_MS = 800 * DAY_MS;

/** A schedule made ready for being asked often. All instants are ms since 1970-01-01T00:00:00Z. */
export interface ScheduleClock {
  readonly inside: (epochMs: number) => boolean;
  /** The first instant after this one at which inside becomes outside or the reverse; Infinity: none in 800 days. */
  readonly nextChange: (epochMs: number) => number;
}

/** Some days of one schedule: whether it begins inside, and the instants at which that turns round. */
interface Chunk {
  readonly at: number;
  readonly begins: boolean;
  readonly turns: readonly number[];
}

function chunkAt(schedule: Schedule, zone: Zone, from: number): Chunk {
  const to = from + CHUNK_MS;
  const marks = [from, ...offsetChanges(zone, from, to), to];
  const boundaries = localBoundaries(schedule);
  const turns: number[] = [];
  let begins: boolean | null = null;
  let last = false;
  const look = (epochMs: number, offset: number) => {
    const inside = insideAtLocal(schedule, epochMs + offset);
    if (begins === null) begins = inside;
    else if (inside !== last) turns.push(epochMs);
    last = inside;
  };
  for (const [i, begin] of marks.slice(0, -1).entries()) {
    const end = marks[i + 1]!;
    const offset = zone.offset(begin) * 60_000;
    look(begin, offset);
    for (let day = Math.floor((begin + offset) / DAY_MS); day * DAY_MS - offset < end; day += 1)
      for (const boundary of boundaries) {
        const epochMs = day * DAY_MS + boundary - offset;
        if (epochMs > begin && epochMs < end) look(epochMs, offset);
      }
  }
  return { at: from, begins: begins ?? false, turns };
}

const kept = new WeakMap<Schedule, ScheduleClock>();

/**
 * Makes a schedule ready for being asked often: the instants at which it turns are worked out once for some days at a
 * time and kept. It says the same as `isInside`, to the millisecond, over changes to and from summer time too.
 */
export function scheduleClock(schedule: Schedule): ScheduleClock {
  const before = kept.get(schedule);
  if (before) return before;
  const zone = zoneNamed(schedule.timeZone);
  const chunks = new Map<number, Chunk>();
  let recent: Chunk | null = null;
  const chunkOf = (epochMs: number): Chunk => {
    const at = Math.floor(epochMs / CHUNK_MS) * CHUNK_MS;
    if (recent?.at === at) return recent;
    let chunk = chunks.get(at);
    if (!chunk) {
      chunk = chunkAt(schedule, zone, at);
      if (chunks.size > 200) chunks.clear();
      chunks.set(at, chunk);
    }
    recent = chunk;
    return chunk;
  };
  const inside = (epochMs: number): boolean => {
    const { begins, turns } = chunkOf(epochMs);
    let passed = 0;
    while (passed < turns.length && turns[passed]! <= epochMs) passed += 1;
    return begins === (passed % 2 === 0);
  };
  const nextChange = (epochMs: number): number => {
    const now = inside(epochMs);
    for (let from = epochMs; from < epochMs + LOOK_AHEAD_MS;) {
      const chunk = chunkOf(from);
      if (from > epochMs && inside(from) !== now) return from;
      const turn = chunk.turns.find((at) => at > from);
      if (turn !== undefined) return turn;
      from = chunk.at + CHUNK_MS;
    }
    return Number.POSITIVE_INFINITY;
  };
  const clock: ScheduleClock = { inside, nextChange };
  kept.set(schedule, clock);
  return clock;
}

/** Under which name a proof knows the end of a line's forward, which turns once. */
export const untilClockId = (line: { readonly id: string }): string => `until:${line.id}`;

/** A clock that is inside until a moment, and outside from then on. */
export function untilClock(iso: string): ScheduleClock {
  const until = Date.parse(iso);
  return {
    inside: (epochMs) => epochMs < until,
    nextChange: (epochMs) => (epochMs < until ? until : Infinity),
  };
}
