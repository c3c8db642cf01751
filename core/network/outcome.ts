import type { FailReason, Hop, Verdict } from './types';
import type { Delivery } from './world';

/** Why something did not come about, and where. */
export interface Failure {
  readonly reason: FailReason;
  readonly at?: string;
}
export type Failed = { readonly ok: false } & Failure;
export type Outcome = { readonly ok: true } | Failed;

export const OK: Outcome = { ok: true };
export const failed = ({ reason, at }: Failure): Failed => ({
  ok: false,
  reason,
  ...(at === undefined ? {} : { at }),
});

/** What came of something, as a verdict. */
export const verdictOf = (outcome: Outcome, trace: readonly Hop[]): Verdict =>
  outcome.ok
    ? { verdict: 'works', trace }
    : {
        verdict: 'fails',
        reason: outcome.reason,
        ...(outcome.at === undefined ? {} : { at: outcome.at }),
        trace,
      };
/** What became of a packet, as a verdict. */
export const fateOf = (delivery: Delivery, trace: readonly Hop[]): Verdict =>
  verdictOf(delivery.ok ? OK : delivery, trace);
/** Of some verdicts the first that fails; if none does, the first. */
export const firstFailed = (...verdicts: readonly [Verdict, ...Verdict[]]): Verdict =>
  verdicts.find(({ verdict }) => verdict === 'fails') ?? verdicts[0];
