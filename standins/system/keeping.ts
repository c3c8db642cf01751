import type { Ms } from '../../core/estate';
import type { Call, Trace, World } from '../../core/calls/engine';
import { recordOfCall, type CallRecord } from '../../core/records';

/** Takes down what a call record has of a call beyond its trace, and has the record kept once the call is over. */
export interface Keeping {
  readonly answered: (leg: number, atMs: Ms) => void;
  readonly carried: (leg: number, trunk: string) => void;
  readonly settled: (trace: Trace, atMs: Ms, around: World) => void;
  /** The call is over: its record is kept, once. */
  readonly over: (atMs: Ms) => void;
  /** Does what tells a side that the call is over, once its record is kept; at once where nobody keeps any. */
  readonly afterKept: (then: () => void) => void;
}

/** @param keep keeps a record; left out: nobody does */
export function keeping(
  id: string,
  call: Call,
  startMs: number,
  keep: ((record: CallRecord) => Promise<void>) | undefined,
): Keeping {
  const answeredMs = new Map<number, Ms>();
  const trunks = new Map<number, string>();
  let settled: { readonly trace: Trace; readonly atMs: Ms; readonly around: World } | null = null;
  let kept: Promise<void> | null = null;
  return {
    answered: (leg, atMs) => {
      if (!answeredMs.has(leg)) answeredMs.set(leg, atMs);
    },
    carried: (leg, trunk) => trunks.set(leg, trunk),
    settled: (trace, atMs, around) => {
      settled ??= { trace, atMs, around };
    },
    over: (overMs) => {
      if (!keep || !settled || kept) return;
      const { trace, atMs: settledMs, around } = settled;
      const went = { id, startMs, call, trace, settledMs, overMs, answeredMs, trunks, around };
      kept = keep(recordOfCall(went)).catch(() => undefined);
    },
    afterKept: (then) => {
      if (kept) void kept.then(then).catch(() => undefined);
      else then();
    },
  };
}
