import { Z95 } from './exact';

/** How long something lasted, and whether it then happened; otherwise it ended for another reason. */
export interface Lifetime {
  /** ms */
  readonly ms: number;
  readonly happened: boolean;
}

/** One step of the curve: what share has happened by this time, with its 95 % interval. */
export interface CurveStep {
  readonly atMs: number;
  readonly atRisk: number;
  readonly answered: number;
  readonly share: number;
  /** Null where all has happened: the interval has no end then. */
  readonly low: number | null;
  readonly high: number | null;
}

/**
 * The share that has happened by each time at which something did, by Kaplan and Meier; intervals by Greenwood's
 * variance on the scale of log(−log). What happens at a time comes before what ends there for another reason.
 */
export function kaplanMeier(lifetimes: readonly Lifetime[]): readonly CurveStep[] {
  const sorted = [...lifetimes].sort((a, b) => a.ms - b.ms);
  const steps: CurveStep[] = [];
  let [survival, variance] = [1, 0];
  for (let at = 0; at < sorted.length;) {
    const ms = sorted[at]?.ms ?? 0;
    const atRisk = sorted.length - at;
    let answered = 0;
    for (; at < sorted.length && sorted[at]?.ms === ms; at++) if (sorted[at]?.happened) answered += 1;
    if (answered === 0) continue;
    survival *= (atRisk - answered) / atRisk;
    variance += answered / (atRisk * (atRisk - answered));
    const isOver = atRisk === answered;
    const width = isOver ? 0 : (Z95 * Math.sqrt(variance)) / Math.abs(Math.log(survival));
    steps.push({
      atMs: ms,
      atRisk,
      answered,
      share: isOver ? 1 : 1 - survival,
      low: isOver ? null : 1 - survival ** Math.exp(-width),
      high: isOver ? null : 1 - survival ** Math.exp(width),
    });
  }
  return steps;
}
