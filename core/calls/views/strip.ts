import { NO_SETTING, readSetting, type SettingRef, type Ms } from '../../estate';
import { adviseTimes, carrierTimes } from './advice';
import {
  type EstateIndex,
  endpointName,
  legEndText,
  outcomeText,
  runInDetail,
  type Band,
  type LegDetail,
  type Call,
  type Leg,
  type Outcome,
  type Trace,
} from '../engine';

/** How a call's end is to be judged: kept by the organisation, lost to it, or cut off on purpose. */
export type Tone = 'reached' | 'lost' | 'ended';

export interface StripSegment {
  readonly kind: 'setup' | 'ring' | 'confirm' | 'talk';
  readonly fromMs: Ms;
  readonly toMs: Ms;
}

export interface StripMark {
  readonly kind: 'guard' | 'give-up' | 'voicemail' | 'end';
  readonly atMs: Ms;
  readonly text: string;
}

/** A stretch in which a guard or a give-up is safe with the carrier's times. */
export interface StripWindow {
  readonly kind: 'guard' | 'give-up';
  readonly fromMs: Ms;
  readonly toMs: Ms;
}

/** One endpoint's part of the strip. */
export interface StripLane {
  readonly endpoint: string;
  readonly label: string;
  readonly number: string | null;
  readonly segments: readonly StripSegment[];
  readonly marks: readonly StripMark[];
  readonly windows: readonly StripWindow[];
  /** What happened here, in a few words. */
  readonly result: string;
  /** Whether the lane shows a target that did not ring at all. */
  readonly silent: boolean;
  readonly setting: SettingRef;
}

/** One call against time, as plain values for a drawing or a table; times in ms since the call arrived. */
export interface Strip {
  readonly lanes: readonly StripLane[];
  readonly bands: readonly Band[];
  readonly outcome: Outcome;
  readonly tone: Tone;
  readonly ending: string;
  readonly endMs: Ms;
  /** The last moment worth drawing. */
  readonly horizonMs: Ms;
}

/** Whether a call that ended so was reached (a person or the organisation's mailbox), lost, or ended on purpose. */
export function toneOf(outcome: Outcome): Tone {
  switch (outcome.kind) {
    case 'answered':
    case 'mailbox':
      return 'reached';
    case 'played':
    case 'hung-up':
    case 'abandoned':
      return 'ended';
    case 'carrier-voicemail':
    case 'unanswered':
    case 'loop':
    case 'failed':
      return 'lost';
  }
}

const seconds = (ms: Ms) => `${Number((ms / 1000).toFixed(1))} s`;

function segmentsOf(leg: Leg, detail: LegDetail): StripSegment[] {
  const segments: StripSegment[] = [];
  const ringTo = detail.confirmFromMs ?? leg.endMs;
  const setupTo = Math.min(leg.alertMs ?? ringTo, leg.endMs);
  if (setupTo > leg.dialledMs) segments.push({ kind: 'setup', fromMs: leg.dialledMs, toMs: setupTo });
  if (leg.alertMs !== null && ringTo > leg.alertMs)
    segments.push({ kind: 'ring', fromMs: leg.alertMs, toMs: ringTo });
  if (detail.confirmFromMs !== null && leg.endMs > detail.confirmFromMs)
    segments.push({ kind: 'confirm', fromMs: detail.confirmFromMs, toMs: leg.endMs });
  return segments;
}

function marksOf(leg: Leg, { target, wouldLoseMs }: LegDetail): StripMark[] {
  const marks: StripMark[] = [];
  const guard = target.acceptAfterMs ?? 0;
  if (guard > 0)
    marks.push({ kind: 'guard', atMs: leg.dialledMs + guard, text: `answer guard ${seconds(guard)}` });
  const giveUp = target.giveUpAfterMs ?? null;
  if (giveUp !== null)
    marks.push({ kind: 'give-up', atMs: leg.dialledMs + giveUp, text: `stops ringing ${seconds(giveUp)}` });
  if (wouldLoseMs !== null)
    marks.push({
      kind: 'voicemail',
      atMs: wouldLoseMs,
      text: `mobile carrier's voicemail ${seconds(wouldLoseMs)}`,
    });
  return marks;
}

/** Where guard and give-up of a leg are safe; nowhere for one that is accepted by key. */
function windowsOf(index: EstateIndex, leg: Leg, detail: LegDetail): StripWindow[] {
  const { target, wouldAlertMs, wouldLoseMs } = detail;
  // A leg that was refused at dialling has no times that could be safe.
  if (wouldAlertMs === null && wouldLoseMs === null) return [];
  const known = index.endpoints.get(leg.endpoint);
  const times = known && (target.confirm ?? 'none') === 'none' ? carrierTimes(known.endpoint) : null;
  if (!times) return [];
  const { guard, giveUp } = adviseTimes(times);
  const from = leg.dialledMs;
  return [
    ...(guard ? [{ kind: 'guard' as const, fromMs: from + guard.fromMs, toMs: from + guard.toMs }] : []),
    ...(giveUp ? [{ kind: 'give-up' as const, fromMs: from + giveUp.fromMs, toMs: from + giveUp.toMs }] : []),
  ];
}

function resultOf(leg: Leg): string {
  if (leg.end === 'connected') return `connected at ${seconds(leg.endMs)}`;
  if (leg.end === 'no-answer' && leg.alertMs !== null) return `rings ${seconds(leg.endMs - leg.alertMs)}`;
  return `${legEndText(leg.end)} at ${seconds(leg.endMs)}`;
}

interface DraftLane {
  label: string;
  number: string | null;
  segments: StripSegment[];
  marks: StripMark[];
  windows: StripWindow[];
  result: string;
  silent: boolean;
  setting: SettingRef;
}

/** The lanes of a trace: one for each endpoint, in the order in which the call came to them. */
function lanesOf(
  index: EstateIndex,
  speaker: string | undefined,
  trace: Trace,
  details: readonly LegDetail[],
) {
  const lanes = new Map<string, DraftLane>();
  const lane = (endpoint: string, setting: SettingRef): DraftLane => {
    const before = lanes.get(endpoint);
    if (before) return before;
    const fresh: DraftLane = {
      label: endpointName(index, endpoint, speaker),
      number: index.endpoints.get(endpoint)?.number ?? null,
      segments: [],
      marks: [],
      windows: [],
      result: '',
      silent: true,
      setting,
    };
    lanes.set(endpoint, fresh);
    return fresh;
  };
  let dialled = 0;
  for (const event of trace.events) {
    if (event.kind === 'skipped' && event.endpoint && event.why !== undefined) {
      const skipped = lane(event.endpoint, event.setting ?? NO_SETTING);
      if (skipped.silent) skipped.result = `left out: ${event.why}`;
    }
    if ((event.kind !== 'dialled' && event.kind !== 'not-dialled') || !event.endpoint) continue;
    const leg = trace.legs[dialled];
    const detail = details[dialled];
    dialled += 1;
    if (!leg || !detail) continue;
    const into = lane(event.endpoint, detail.setting);
    into.segments.push(...segmentsOf(leg, detail));
    into.marks.push(...marksOf(leg, detail));
    into.windows.push(...windowsOf(index, leg, detail));
    into.result = resultOf(leg);
    into.silent = into.silent && leg.alertMs === null;
    into.setting = detail.setting;
  }
  return inPlanOrder([...lanes].map(([endpoint, draft]): StripLane => ({ endpoint, ...draft })));
}

/** Lanes of one stage in the order of its targets: one that was left out is told of before the others are dialled. */
function inPlanOrder(lanes: readonly StripLane[]): StripLane[] {
  const placed = lanes.map((lane) => {
    const last = readSetting(lane.setting)?.steps.at(-1);
    const isTarget = last?.field === 'ring' && last.at !== null;
    const stage = isTarget ? lane.setting.slice(0, lane.setting.lastIndexOf('.')) : lane.setting;
    return { lane, stage, target: isTarget ? Number(last.at) : 0 };
  });
  const stages = [...new Set(placed.map((each) => each.stage))];
  return placed
    .sort((a, b) => stages.indexOf(a.stage) - stages.indexOf(b.stage) || a.target - b.target)
    .map((each) => each.lane);
}

const STEPS: readonly Ms[] = [5000, 10_000, 20_000, 30_000, 60_000, 120_000, 300_000, 600_000, 1_800_000];

function horizon(endMs: Ms, lanes: readonly StripLane[]): Ms {
  const marks = lanes
    .flatMap((lane) => lane.marks.map((mark) => mark.atMs))
    .filter((at) => at <= endMs + 8000);
  const last = Math.max(endMs, ...marks, 1000);
  const step = STEPS.find((each) => last / each <= 8) ?? 3_600_000;
  return (Math.floor(last / step) + 1) * step;
}

export interface Tried {
  readonly trace: Trace;
  readonly strip: Strip;
}

/**
 * Runs a call and lays it out against time.
 * @param speaker the person on whose page it is shown: their own endpoints need no name
 */
export function tryCall(index: EstateIndex, call: Call, speaker?: string): Tried {
  const { trace, details, bands } = runInDetail(index, call);
  const lanes = lanesOf(index, speaker, trace, details);
  const endMs = trace.outcome.atMs;
  return {
    trace,
    strip: {
      lanes,
      bands,
      outcome: trace.outcome,
      tone: toneOf(trace.outcome),
      ending: outcomeText(index, trace.outcome),
      endMs,
      horizonMs: horizon(endMs, lanes),
    },
  };
}
