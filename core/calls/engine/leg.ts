import { isBeforeGuard } from './guard';
import { fieldOf, type SettingRef, type Ms, type RingTarget } from '../../estate';
import { NO_WAY_OUT, wayOut } from '../dialling';
import type { KnownEndpoint } from './compile';
import { channelsHeld, legBehaviour, note, seconds, type Payer, type Run } from './state';
import type { EndpointBehaviour, EndpointState, FailureWord, LegEnd } from './types';

/** When a person who answers presses the key that accepts, where nothing else is said: ms from the answer. */
export const DEFAULT_CONFIRM_PRESS_MS: Ms = 3000;

export const NEVER = Number.POSITIVE_INFINITY;

/** A target with whose permission it is dialled and where it is set. */
export interface PlannedTarget {
  readonly target: RingTarget;
  readonly known: KnownEndpoint;
  readonly payer: Payer;
  readonly setting: SettingRef;
  /** The seat that plays something instead of ringing a phone. */
  readonly plays?: string;
}

export interface LiveLeg {
  readonly planned: PlannedTarget;
  readonly dialAt: Ms;
  phase: 'waiting' | 'up' | 'confirming' | 'ended';
  byVoicemail: boolean;
  trunk: string | null;
  alertedAt: Ms | null;
  alertAt: Ms;
  /** The answer by a person; once answered, the key that accepts. */
  answerAt: Ms;
  rejectAt: Ms;
  failAt: Ms;
  failWord: LegEnd;
  voicemailAt: Ms;
  giveUpAt: Ms;
  traceAt: number;
}

/** A leg that waits for its moment to be dialled. */
export const newLeg = (planned: PlannedTarget, stageStart: Ms): LiveLeg => ({
  planned,
  dialAt: stageStart + (planned.target.delayMs ?? 0),
  phase: 'waiting',
  byVoicemail: false,
  trunk: null,
  alertedAt: null,
  alertAt: NEVER,
  answerAt: NEVER,
  rejectAt: NEVER,
  failAt: NEVER,
  failWord: 'unreachable',
  voicemailAt: NEVER,
  giveUpAt: NEVER,
  traceAt: -1,
});

/** Checks that an outside leg may and can be dialled, and takes its channel. */
function takeChannel(run: Run, leg: LiveLeg, number: string): FailureWord | null {
  const way = wayOut(
    run.index.permissions.get(leg.planned.payer.permission),
    number,
    run.index.classOf(number),
    run.index.estate.trunks,
    ({ id, channels }) => {
      return channelsHeld(run, id) + (run.trunkUse.get(id) ?? 0) < channels;
    },
  );
  if ('reason' in way) return way.reason;
  leg.trunk = way.trunk.id;
  run.trunkUse.set(leg.trunk, (run.trunkUse.get(leg.trunk) ?? 0) + 1);
  return null;
}

const WORDS: Record<Exclude<LegEnd, 'connected'>, string> = {
  ...NO_WAY_OUT,
  unregistered: 'it is not registered',
  unreachable: 'the phone is off or out of coverage and has no voicemail',
  busy: 'it is busy',
  'do-not-disturb': 'it is set to do not disturb',
  rejected: 'the call was rejected there',
  'given-up': 'its time to stop ringing was reached',
  'before-guard': 'it was answered before the answer guard ended, sooner than a person could',
  refused: 'the called person refused by key',
  'not-confirmed': 'nobody pressed the key to accept',
  'no-answer': 'nobody answered in time',
  'answered-elsewhere': 'another phone was answered',
  'caller-gone': 'the caller hung up',
};

export function finish(run: Run, leg: LiveLeg, end: LegEnd): void {
  leg.phase = 'ended';
  const { endpoint } = leg.planned.known;
  run.legs[leg.traceAt] = {
    endpoint: endpoint.id,
    dialledMs: leg.dialAt,
    alertMs: leg.alertedAt,
    endMs: run.now,
    end,
  };
  if (leg.trunk !== null) {
    run.trunkMs += run.now - leg.dialAt;
    run.trunkUse.set(leg.trunk, (run.trunkUse.get(leg.trunk) ?? 1) - 1);
  }
  if (end === 'connected') return;
  note(run, 'leg-ended', () => `${endpoint.label} stops: ${WORDS[end]}.`, {
    endpoint: endpoint.id,
    setting:
      end === 'before-guard'
        ? fieldOf(leg.planned.setting, 'acceptAfterMs')
        : end === 'given-up'
          ? fieldOf(leg.planned.setting, 'giveUpAfterMs')
          : leg.planned.setting,
  });
}

/** A leg that cannot be dialled, or finds no phone registered. */
function refuse(run: Run, leg: LiveLeg, word: LegEnd): false {
  const { known, payer, setting } = leg.planned;
  note(run, 'not-dialled', () => `${known.endpoint.label} is tried for ${payer.name}.`, {
    endpoint: known.endpoint.id,
    setting,
  });
  finish(run, leg, word);
  return false;
}

const momentAfter = (from: Ms, ms: Ms | null | undefined): Ms =>
  ms === null || ms === undefined ? NEVER : from + ms;
const finite = (ms: Ms): Ms | null => (ms === NEVER ? null : ms);

/** Dials a leg: what it will do from now on is worked out here, once. Returns true if it connects at once. */
export function dial(run: Run, leg: LiveLeg): boolean {
  const { known, target, setting, payer } = leg.planned;
  const behaviour = legBehaviour(run, known.endpoint.id, run.legs.length, run.now);
  const state: EndpointState = behaviour.state ?? 'ready';
  const isNumber = known.number !== null;
  const isAsleepApp = state === 'asleep' && known.endpoint.kind === 'mobile-app';
  leg.phase = 'up';
  leg.traceAt = run.legs.length;
  run.legs.push({
    endpoint: known.endpoint.id,
    dialledMs: run.now,
    alertMs: null,
    endMs: run.now,
    end: 'no-answer',
  });
  const detail = {
    target,
    setting,
    stage: run.stages,
    stageEndMs: run.stageEndMs,
    inQueue: run.queueEndMs !== NEVER,
    wouldAlertMs: null,
    wouldLoseMs: null,
    confirmFromMs: null,
  };
  run.details.push(detail);
  if (leg.planned.plays !== undefined) {
    note(run, 'answered', () => `${known.endpoint.label} plays its recording.`, {
      endpoint: known.endpoint.id,
      setting,
    });
    return true;
  }
  const failure = known.number === null ? null : takeChannel(run, leg, known.number);
  if (failure) return refuse(run, leg, failure);
  if (state === 'unregistered' || (state === 'off' && !isNumber) || (isAsleepApp && !known.times.wakes))
    return refuse(run, leg, 'unregistered');
  note(run, 'dialled', () => `${known.endpoint.label} is dialled for ${payer.name}.`, {
    endpoint: known.endpoint.id,
    setting,
  });
  leg.giveUpAt = momentAfter(run.now, target.giveUpAfterMs);
  const readyAt =
    run.now + (behaviour.setupMs ?? known.times.setupMs) + (isAsleepApp ? known.times.wakeMs : 0);
  behave(leg, behaviour, state, readyAt);
  run.details[leg.traceAt] = {
    ...detail,
    wouldAlertMs: finite(leg.alertAt),
    wouldLoseMs: finite(leg.voicemailAt),
  };
  return false;
}

/** What a leg that got through will do, by the state of the phone it leads to (step 5). */
function behave(leg: LiveLeg, behaviour: EndpointBehaviour, state: EndpointState, readyAt: Ms): void {
  const { number, times } = leg.planned.known;
  const mailboxAfter =
    number === null
      ? null
      : behaviour.mailboxAfterMs === undefined
        ? times.mailboxAfterMs
        : behaviour.mailboxAfterMs;
  const voicemailAt = momentAfter(readyAt, mailboxAfter);
  switch (state) {
    case 'unregistered':
    case 'off':
    case 'busy':
      if (voicemailAt !== NEVER) leg.voicemailAt = leg.dialAt + (behaviour.offAnswerMs ?? times.offAnswerMs);
      else failSilently(leg, readyAt, state === 'busy' ? 'busy' : 'unreachable');
      return;
    case 'do-not-disturb':
      if (number === null) return failSilently(leg, readyAt, 'do-not-disturb');
      leg.alertAt = readyAt;
      leg.voicemailAt = voicemailAt;
      return;
    case 'auto-answer':
      leg.alertAt = readyAt;
      leg.answerAt = readyAt;
      return;
    case 'ready':
    case 'asleep':
      leg.alertAt = readyAt;
      leg.answerAt = momentAfter(readyAt, behaviour.answerAfterMs);
      leg.rejectAt = momentAfter(readyAt, behaviour.rejectAfterMs);
      leg.voicemailAt = voicemailAt;
  }
}

function failSilently(leg: LiveLeg, atMs: Ms, word: FailureWord): void {
  leg.failAt = atMs;
  leg.failWord = word;
}

/** An answer, by a person or a carrier's voicemail. Returns true if it connects the call. */
export function answer(run: Run, leg: LiveLeg, byVoicemail: boolean): boolean {
  const { target, known, setting } = leg.planned;
  note(
    run,
    byVoicemail ? 'voicemail' : 'answered',
    () =>
      byVoicemail
        ? `The mobile carrier's voicemail answers at ${known.endpoint.label}, ${seconds(run.now - leg.dialAt)} after dialling.`
        : `${known.endpoint.label} is answered, ${seconds(run.now - leg.dialAt)} after dialling.`,
    { endpoint: known.endpoint.id },
  );
  if (isBeforeGuard(run.now - leg.dialAt, target)) {
    finish(run, leg, 'before-guard');
    return false;
  }
  leg.byVoicemail = byVoicemail;
  if ((target.confirm ?? 'none') === 'none') return true;
  const behaviour = legBehaviour(run, known.endpoint.id, leg.traceAt, leg.dialAt);
  const within = run.index.settings.confirmWithinMs;
  const from = run.now;
  const press = behaviour.pressAfterMs === undefined ? DEFAULT_CONFIRM_PRESS_MS : behaviour.pressAfterMs;
  leg.phase = 'confirming';
  run.details[leg.traceAt]!.confirmFromMs = from;
  leg.answerAt = byVoicemail ? NEVER : momentAfter(from, press);
  leg.rejectAt = byVoicemail ? NEVER : momentAfter(from, behaviour.refuseAfterMs);
  leg.failAt = from + within;
  leg.failWord = 'not-confirmed';
  leg.voicemailAt = NEVER;
  leg.giveUpAt = NEVER;
  note(
    run,
    'answered',
    () =>
      `${known.endpoint.label} must accept by ${target.confirm === 'pin' ? 'PIN' : 'key'} within ${seconds(within)}.`,
    {
      endpoint: known.endpoint.id,
      setting: fieldOf(setting, 'confirm'),
    },
  );
  return false;
}
