import { endpointName, legEndText, outcomeText, type EstateIndex, type Outcome } from '../calls/engine';
import { toneOf, type Strip, type StripLane, type StripSegment } from '../calls/views';
import { NO_SETTING, type Ms } from '../estate';
import { outcomeOf } from './replay';
import type { CallRecord, RecordedLeg } from './types';

/** After the outcome so much is drawn at most: talk goes on for long. */
const TALK_SHOWN_MS: Ms = 4000;

function segmentsOf(leg: RecordedLeg, isTalk: boolean, horizonMs: Ms): readonly StripSegment[] {
  const { dialledMs, alertMs, answerMs, endMs } = leg;
  const rangTo = answerMs ?? endMs;
  const segments: StripSegment[] = [
    { kind: 'setup', fromMs: dialledMs, toMs: Math.min(alertMs ?? rangTo, rangTo) },
    ...(alertMs === null ? [] : [{ kind: 'ring', fromMs: alertMs, toMs: rangTo } as const]),
    { kind: 'confirm', fromMs: rangTo, toMs: endMs },
    ...(isTalk ? [{ kind: 'talk', fromMs: endMs, toMs: horizonMs } as const] : []),
  ];
  return segments.filter(({ fromMs, toMs }) => toMs > fromMs);
}

const seconds = (ms: Ms): string => `${(ms / 1000).toFixed(1).replace(/\.0$/, '')} s`;

/** A call that went, as its strip: what rang when, and how it ended. @param outcome where more than the record is known */
export function recordStrip(
  index: EstateIndex,
  record: CallRecord,
  outcome: Outcome = outcomeOf(index, record),
): Strip {
  const last = Math.max(record.atMs, ...record.legs.map(({ endMs }) => endMs), 1000);
  const horizonMs = last + Math.min(TALK_SHOWN_MS, Math.max(1000, record.talkMs));
  const lanes = record.legs.map((leg): StripLane => {
    const known = index.endpoints.get(leg.endpoint);
    const isTalk = leg.end === 'connected' && record.talkMs > 0;
    return {
      endpoint: leg.endpoint,
      label: endpointName(index, leg.endpoint),
      number: known?.number ?? null,
      segments: segmentsOf(leg, isTalk, horizonMs),
      marks: [],
      windows: [],
      result:
        leg.alertMs === null
          ? `Never rang: ${legEndText(leg.end)}`
          : `Rang ${seconds((leg.answerMs ?? leg.endMs) - leg.alertMs)}: ${legEndText(leg.end)}`,
      silent: leg.alertMs === null,
      setting: NO_SETTING,
    };
  });
  // A phone that was dialled twice has a lane for each time.
  const named = lanes.map((lane, n) => {
    const nth = lanes.slice(0, n).filter(({ endpoint }) => endpoint === lane.endpoint).length;
    return nth === 0
      ? lane
      : { ...lane, endpoint: `${lane.endpoint}#${nth + 1}`, label: `${lane.label} again` };
  });
  return {
    lanes: named,
    bands: [],
    outcome,
    tone: toneOf(outcome),
    ending: outcomeText(index, outcome),
    endMs: record.atMs,
    horizonMs,
  };
}
