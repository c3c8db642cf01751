import type { Ms } from '../../core/estate';
import type { Clock } from '../sip/clock';

/** Who waits in each queue, in the order in which they came, and when others were answered out of it of late. */
export interface WaitingLines {
  readonly enter: (queue: string, call: string) => void;
  /** @param answeredMs when it was answered; null: it left otherwise */
  readonly leave: (queue: string, call: string, answeredMs: Ms | null) => void;
  /** The place of a call, from 1, and how long it may still take; null: too few were answered of late to tell. */
  readonly placeOf: (queue: string, call: string) => { readonly place: number; readonly waitMs: Ms | null };
}

/** Answers by which a wait is told: the last so many, and no fewer than two. */
const ANSWERS_KEPT = 8;

export function waitingLines(): WaitingLines {
  const lines = new Map<string, { readonly calls: Set<string>; answers: readonly Ms[] }>();
  return {
    enter: (queue, call) => {
      const line = lines.get(queue) ?? { calls: new Set<string>(), answers: [] };
      line.calls.add(call);
      lines.set(queue, line);
    },
    leave: (queue, call, answeredMs) => {
      const line = lines.get(queue);
      line?.calls.delete(call);
      if (line && answeredMs !== null) line.answers = [...line.answers, answeredMs].slice(-ANSWERS_KEPT);
    },
    placeOf: (queue, call) => {
      const { calls = new Set<string>(), answers = [] } = lines.get(queue) ?? {};
      const place = [...calls].indexOf(call) + 1;
      const [first, last] = [answers[0], answers.at(-1)];
      return {
        place,
        waitMs:
          first === undefined || last === undefined || answers.length < 2
            ? null
            : Math.round((place * (last - first)) / (answers.length - 1)),
      };
    },
  };
}

/** The place is said when a caller comes into a queue, and so often after it. */
const SAID_EVERY_MS = 20_000;

/** What a caller in a queue is told: `queue place 2, about 3 min`. */
export function queueWords({
  place,
  waitMs,
}: {
  readonly place: number;
  readonly waitMs: Ms | null;
}): string {
  const wait =
    waitMs === null
      ? ''
      : waitMs < 60_000
        ? ', less than a minute'
        : `, about ${Math.round(waitMs / 60_000)} min`;
  return `queue place ${place}${wait}`;
}

/** Tells one caller their place for as long as they wait. @param say says something to the caller */
export function announcer(lines: WaitingLines, call: string, clock: Clock, say: (text: string) => void) {
  let queue: string | null = null;
  let callOff: () => void = () => undefined;
  const tell = () => {
    if (queue === null) return;
    say(queueWords(lines.placeOf(queue, call)));
    callOff = clock.after(SAID_EVERY_MS, tell);
  };
  return {
    /** @param now the queue that the caller waits in; null: none */
    waits: (now: string | null): void => {
      if (now === null || now === queue) return;
      queue = now;
      lines.enter(now, call);
      tell();
    },
    over: (isAnswered: boolean): void => {
      callOff();
      if (queue !== null) lines.leave(queue, call, isAnswered ? clock.now() : null);
      queue = null;
    },
  };
}
