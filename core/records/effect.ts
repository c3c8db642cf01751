import { isLost, type EstateIndex, type Outcome } from '../calls/engine';
import { quickRunner, type QuickRunner } from '../calls/outcome';
import { callOf } from './replay';
import type { CallRecord } from './types';

/** One call that would end otherwise. */
export interface Turned {
  readonly id: string;
  readonly startMs: number;
  readonly from: string | null;
  readonly to: string;
  readonly before: Outcome;
  readonly after: Outcome;
}
/** What another estate makes of calls that went. */
export interface RecordsEffect {
  readonly calls: number;
  readonly turned: number;
  /** Lost as they went and kept then, and the other way round. */
  readonly saved: number;
  readonly lost: number;
  /** By who was called: how many of their calls end otherwise, how many are saved and lost. */
  readonly people: readonly {
    readonly to: string;
    readonly turned: number;
    readonly saved: number;
    readonly lost: number;
  }[];
  /** Some of them, those that are lost first. */
  readonly some: readonly Turned[];
}

const MOST_SHOWN = 200;

/** Whether two outcomes are the same to whoever called: who has the call, not the very moment. */
const isSame = (a: Outcome, b: Outcome): boolean =>
  a.kind === b.kind &&
  ('endpoint' in a ? a.endpoint : null) === ('endpoint' in b ? b.endpoint : null) &&
  ('person' in a ? a.person : null) === ('person' in b ? b.person : null);

const isBad = (outcome: Outcome): boolean => isLost(outcome.kind) || outcome.kind === 'hung-up';

type OfPerson = RecordsEffect['people'][number];
const worstFirst = (a: OfPerson, b: OfPerson): number =>
  b.lost - a.lost || b.turned - a.turned || (a.to < b.to ? -1 : 1);
const lostFirst = (a: Turned, b: Turned): number =>
  Number(isBad(b.after)) - Number(isBad(a.after)) || a.startMs - b.startMs;

/** Counts what another estate makes of calls, as they are given to it one after another. */
export interface EffectCounter {
  readonly add: (record: CallRecord) => void;
  readonly effect: () => RecordsEffect;
}

export function effectCounter(before: EstateIndex, after: EstateIndex): EffectCounter {
  const runs: readonly [QuickRunner, QuickRunner] = [quickRunner(before), quickRunner(after)];
  const people = new Map<string, { turned: number; saved: number; lost: number }>();
  const some: Turned[] = [];
  let [calls, turned, saved, lost] = [0, 0, 0, 0];
  return {
    add: (record) => {
      calls += 1;
      const was = runs[0].outcomeOf(callOf(before, record));
      const is = runs[1].outcomeOf(callOf(after, record));
      if (isSame(was, is)) return;
      turned += 1;
      const own = people.get(record.to) ?? { turned: 0, saved: 0, lost: 0 };
      people.set(record.to, own);
      own.turned += 1;
      const isSaved = isBad(was) && !isBad(is);
      const isLostNow = !isBad(was) && isBad(is);
      if (isSaved) [saved, own.saved] = [saved + 1, own.saved + 1];
      if (isLostNow) [lost, own.lost] = [lost + 1, own.lost + 1];
      const { id, startMs, from, to } = record;
      // Of calls that are lost then as many as there is room for are shown; others make room for them.
      if (some.length < MOST_SHOWN) some.push({ id, startMs, from, to, before: was, after: is });
      else if (isLostNow) {
        const at = some.findIndex((each) => !isBad(each.after));
        if (at >= 0) some[at] = { id, startMs, from, to, before: was, after: is };
      }
    },
    effect: () => ({
      calls,
      turned,
      saved,
      lost,
      people: [...people].map(([to, counts]) => ({ to, ...counts })).sort(worstFirst),
      some: [...some].sort(lostFirst),
    }),
  };
}

/** Counts of several parts of the calls, put together. */
export function addedEffects(parts: readonly RecordsEffect[]): RecordsEffect {
  const people = new Map<string, { turned: number; saved: number; lost: number }>();
  for (const { people: own } of parts)
    for (const { to, ...counts } of own) {
      const sum = people.get(to) ?? { turned: 0, saved: 0, lost: 0 };
      people.set(to, {
        turned: sum.turned + counts.turned,
        saved: sum.saved + counts.saved,
        lost: sum.lost + counts.lost,
      });
    }
  const sum = (what: (part: RecordsEffect) => number) => parts.reduce((total, part) => total + what(part), 0);
  return {
    calls: sum(({ calls }) => calls),
    turned: sum(({ turned }) => turned),
    saved: sum(({ saved }) => saved),
    lost: sum(({ lost }) => lost),
    people: [...people].map(([to, counts]) => ({ to, ...counts })).sort(worstFirst),
    some: parts
      .flatMap(({ some }) => some)
      .sort(lostFirst)
      .slice(0, MOST_SHOWN),
  };
}
