import type { EndpointId, Ms } from '../../estate';
import type { DetailedRun } from '../../calls/engine';
import type { BehaviourByEndpoint, Given } from './circumstances';
import type { ScheduleReading } from './readings';

/** How a call stands when it comes to a stage: what still lies before it, and what it brings along. */
export interface CallStanding {
  /** All that lies before it, as far as nothing is done: the same for calls that can only go on in the same ways. */
  readonly key: string;
  readonly atMs: Ms;
  /** How long nothing has been heard. */
  readonly silentMs: Ms;
  readonly hasRung: boolean;
  /** Somebody has answered, rejected or chosen something. */
  readonly hasActed: boolean;
}
/** A stage that a call came to, with what was looked at below it. */
export type StageMet = CallStanding & { readonly reads: readonly ScheduleReading[] };

/**
 * Whether a call that stands so breaks every promise below that another would: it is as late, as long in silence, and
 * has not rung or been acted on unless the other has too. What lies behind them is the same.
 */
export const dominates = (a: CallStanding, b: CallStanding): boolean =>
  a.atMs >= b.atMs && a.silentMs >= b.silentMs && (!a.hasRung || b.hasRung) && (!a.hasActed || b.hasActed);

/** How a call stands when it comes to a stage. @param shared endpoints that it can meet again */
export function standingAt(
  { presses, code, registered, decided }: Given,
  behaviours: BehaviourByEndpoint,
  { trace, details, bands, asked }: DetailedRun,
  stage: number,
  shared: { readonly has: (endpoint: EndpointId) => boolean },
): CallStanding {
  const begin = details.findIndex((detail) => detail.stage >= stage);
  const atMs = trace.legs[begin]?.dialledMs ?? 0;
  const ahead = details.flatMap((detail, i) => {
    const leg = trace.legs[i]!;
    return detail.stage < stage
      ? []
      : [
          `${detail.stage - stage} ${leg.endpoint} ${detail.setting} ${leg.dialledMs - atMs} ${detail.stageEndMs - atMs} ${detail.inQueue} ${leg.end}`,
        ];
  });
  const open = [...asked.things].flatMap(([name, readAt]) =>
    decided.has(name) ? [] : [`${name} ${readAt.stage - stage}`],
  );
  const done = Object.entries(behaviours);
  // Phones that ring again later do what they have done.
  const again = done.filter(([endpoint]) => shared.has(endpoint));
  let heardMs = 0;
  let hasRung = false;
  trace.legs.forEach((leg, i) => {
    if (details[i]!.stage >= stage || leg.alertMs === null) return;
    hasRung = true;
    heardMs = Math.max(heardMs, leg.endMs);
  });
  for (const band of bands)
    if (band.kind !== 'ring' && band.fromMs < atMs) heardMs = Math.max(heardMs, Math.min(band.toMs, atMs));
  const { atMs: endMs, ...outcome } = trace.outcome;
  return {
    atMs,
    silentMs: atMs - Math.min(heardMs, atMs),
    hasRung,
    hasActed:
      Object.keys(presses).length > 0 ||
      code !== null ||
      done.some(
        ([, { answerAfterMs = null, rejectAfterMs = null, state }]) =>
          answerAfterMs !== null || rejectAfterMs !== null || state === 'auto-answer',
      ),
    key: JSON.stringify([
      ahead,
      open,
      outcome,
      endMs - atMs,
      // Whom the call has asked already, which it must not ask again; by which rules it came there is past.
      trace.path.map((step) => ('person' in step ? step.person : 'group' in step ? step.group : step.menu)),
      // What a caller, an arrival or a key leads to is what lies ahead; a phone that must be registered is not seen there.
      registered,
      again,
    ]),
  };
}
