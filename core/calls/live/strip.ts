import { NO_SETTING, type Ms } from '../../estate';
import { endpointName, legEndText, outcomeText, type EstateIndex, type Leg, type Trace } from '../engine';
import { toneOf, type Strip, type StripLane, type StripSegment } from '../views';

const seconds = (ms: Ms) => `${Number((ms / 1000).toFixed(1))} s`;

function segmentsUntil(leg: Leg, atMs: Ms): StripSegment[] {
  const end = Math.min(leg.endMs, atMs);
  const rang = leg.alertMs !== null && leg.alertMs <= atMs ? leg.alertMs : null;
  const setupTo = rang ?? end;
  return [
    ...(setupTo > leg.dialledMs ? [{ kind: 'setup' as const, fromMs: leg.dialledMs, toMs: setupTo }] : []),
    ...(rang !== null && end > rang ? [{ kind: 'ring' as const, fromMs: rang, toMs: end }] : []),
  ];
}

function resultUntil(leg: Leg, atMs: Ms): string {
  if (leg.endMs > atMs) return leg.alertMs !== null && leg.alertMs <= atMs ? 'ringing' : 'dialled';
  if (leg.end === 'connected') return `connected at ${seconds(leg.endMs)}`;
  if (leg.end === 'no-answer' && leg.alertMs !== null) return `rings ${seconds(leg.endMs - leg.alertMs)}`;
  return `${legEndText(leg.end)} at ${seconds(leg.endMs)}`;
}

/**
 * A call that is really placed, laid out against time as far as it has come, in the same lanes and on the same scale
 * as what was computed for it.
 * @param atMs how far it has come
 * @param speaker the person on whose page it is shown
 */
export function liveStrip(
  index: EstateIndex,
  predicted: Strip,
  trace: Trace,
  atMs: Ms,
  speaker?: string,
): Strip {
  const of = new Map<string, Leg[]>();
  for (const leg of trace.legs) of.set(leg.endpoint, [...(of.get(leg.endpoint) ?? []), leg]);
  const lane = (endpoint: string, base: StripLane | null): StripLane => {
    const legs = of.get(endpoint) ?? [];
    return {
      endpoint,
      label: base?.label ?? endpointName(index, endpoint, speaker),
      number: base?.number ?? null,
      segments: legs.flatMap((leg) => segmentsUntil(leg, atMs)),
      marks: [],
      windows: [],
      result: legs.length > 0 ? resultUntil(legs.at(-1)!, atMs) : '',
      silent: legs.every(({ alertMs }) => alertMs === null || alertMs > atMs),
      setting: base?.setting ?? NO_SETTING,
    };
  };
  const known = new Set(predicted.lanes.map(({ endpoint }) => endpoint));
  const over = trace.outcome.atMs <= atMs;
  return {
    lanes: [
      ...predicted.lanes.map((base) => lane(base.endpoint, base)),
      ...[...of.keys()].filter((endpoint) => !known.has(endpoint)).map((endpoint) => lane(endpoint, null)),
    ],
    bands: predicted.bands,
    outcome: trace.outcome,
    tone: toneOf(trace.outcome),
    ending: over ? outcomeText(index, trace.outcome) : '',
    endMs: over ? trace.outcome.atMs : atMs,
    horizonMs: Math.max(predicted.horizonMs, Math.ceil(atMs / 1000) * 1000),
  };
}
