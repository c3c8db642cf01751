import type { Ms, RingTarget } from '../estate';
import { permits, trunksFor } from '../dialling';
import { scheduleHolds } from './choose';
import type { KnownEndpoint } from './compile';
import { behaviourOf, epochNow, note, seconds, waitUntil, type Payer, type Run, type Stop } from './state';
import type { EndpointState, FailureWord, LegEnd } from './types';

/** A target with whose permission it is dialled and where it is set. */
export interface PlannedTarget {
  readonly target: RingTarget;
  readonly known: KnownEndpoint;
  readonly payer: Payer;
  readonly setting: string;
}

export type RingResult = Stop | { readonly through: true } | { readonly queueOver: true };

const NEVER = Number.POSITIVE_INFINITY;

/** The order of things at one instant (reach model, section 3, step 9); the caller's hanging up comes before all. */
const ORDER = {
  alerting: 0,
  answer: 1,
  reject: 2,
  failure: 3,
  voicemail: 4,
  giveUp: 5,
  stageEnd: 6,
  queueEnd: 7,
  dial: 8,
} as const;
type Order = (typeof ORDER)[keyof typeof ORDER];

interface LiveLeg {
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

const isRegistered = (run: Run, id: string): boolean => {
  const state = behaviourOf(run, id).state ?? 'ready';
  if (state === 'unregistered' || state === 'off') return false;
  return state !== 'asleep' || (run.index.endpoints.get(id)?.times.wakes ?? true);
};

/** Why a target is left out of this stage, in words; null if it takes part. */
function skipReason(run: Run, planned: PlannedTarget): string | null {
  const { target } = planned;
  if (target.enabled === false) return 'switched off in the plan';
  if (target.arrivals && !target.arrivals.includes(run.arrival))
    return `set not to ring for calls that come ${run.arrival === 'direct' ? 'direct' : `by ${run.arrival}`}`;
  if (target.schedule && !scheduleHolds(run.index, target.schedule, epochNow(run))) {
    const name = run.index.schedules.get(target.schedule.id)?.name ?? target.schedule.id;
    return `set to ring only ${target.schedule.inside ? 'inside' : 'outside'} "${name}"`;
  }
  const label = (id: string) => run.index.endpoints.get(id)?.endpoint.label ?? id;
  if (target.onlyWhile && !isRegistered(run, target.onlyWhile))
    return `set to ring only while ${label(target.onlyWhile)} is registered`;
  if (target.onlyUnless && isRegistered(run, target.onlyUnless))
    return `set to ring only while ${label(target.onlyUnless)} is not registered`;
  return null;
}

/** Checks that an outside leg may and can be dialled, and takes its channel. */
function takeChannel(run: Run, leg: LiveLeg, number: string): FailureWord | null {
  const numberClass = run.index.classOf(number);
  if (numberClass === 'bad-number') return 'bad-number';
  const permission = run.index.permissions.get(leg.planned.payer.permission);
  if (!permission || !permits(permission, number, numberClass)) return 'not-permitted';
  const trunks = trunksFor(run.index.estate.trunks, numberClass);
  if (trunks.length === 0) return 'no-route';
  const inUse = (id: string) => (run.call.world?.trunkUse?.[id] ?? 0) + (run.trunkUse.get(id) ?? 0);
  const free = trunks.find((trunk) => inUse(trunk.id) < trunk.channels);
  if (!free) return 'no-channel';
  leg.trunk = free.id;
  run.trunkUse.set(free.id, (run.trunkUse.get(free.id) ?? 0) + 1);
  return null;
}

const WORDS: Record<Exclude<LegEnd, 'connected'>, string> = {
  'bad-number': 'the number is none that can be called',
  'not-permitted': 'the permission does not allow this number',
  'no-route': 'no trunk carries this class of number',
  'no-channel': 'every channel of the trunks that carry it is taken',
  unregistered: 'it is not registered',
  unreachable: 'the phone is off or out of coverage and has no voicemail',
  busy: 'it is busy',
  'do-not-disturb': 'it is set to do not disturb',
  rejected: 'the call was rejected there',
  'given-up': 'its give-up time was reached',
  'before-guard': 'it was answered before the guard, sooner than a person could',
  refused: 'the called person refused by key',
  'not-confirmed': 'nobody pressed the key that accepts',
  'no-answer': 'nobody answered in time',
  'answered-elsewhere': 'another phone was answered',
  'caller-gone': 'the caller hung up',
};

function finish(run: Run, leg: LiveLeg, end: LegEnd): void {
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
  note(run, 'leg-ended', `${endpoint.label} stops: ${WORDS[end]}.`, {
    endpoint: endpoint.id,
    setting:
      end === 'before-guard'
        ? `${leg.planned.setting}.acceptAfterMs`
        : end === 'given-up'
          ? `${leg.planned.setting}.giveUpAfterMs`
          : leg.planned.setting,
  });
}

/** Dials a leg: what it will do from now on is worked out here, once. */
function dial(run: Run, leg: LiveLeg): void {
  const { known, target } = leg.planned;
  const behaviour = behaviourOf(run, known.endpoint.id);
  const state: EndpointState = behaviour.state ?? 'ready';
  const isNumber = known.number !== null;
  leg.phase = 'up';
  leg.traceAt = run.legs.length;
  run.legs.push({
    endpoint: known.endpoint.id,
    dialledMs: run.now,
    alertMs: null,
    endMs: run.now,
    end: 'no-answer',
  });
  const refuse = (word: LegEnd) => {
    note(run, 'not-dialled', `${known.endpoint.label} is tried for ${leg.planned.payer.name}.`, {
      endpoint: known.endpoint.id,
      setting: leg.planned.setting,
    });
    finish(run, leg, word);
  };
  const failure = known.number === null ? null : takeChannel(run, leg, known.number);
  if (failure) return refuse(failure);
  const cannotWake = state === 'asleep' && known.endpoint.kind === 'mobile-app' && !known.times.wakes;
  if (state === 'unregistered' || (state === 'off' && !isNumber) || cannotWake) return refuse('unregistered');
  note(run, 'dialled', `${known.endpoint.label} is dialled for ${leg.planned.payer.name}.`, {
    endpoint: known.endpoint.id,
    setting: leg.planned.setting,
  });

  const waking = state === 'asleep' && known.endpoint.kind === 'mobile-app' ? known.times.wakeMs : 0;
  const readyAt = run.now + (behaviour.setupMs ?? known.times.setupMs) + waking;
  const after = (ms: Ms | null | undefined) => (ms === null || ms === undefined ? NEVER : readyAt + ms);
  const mailboxAfter = isNumber
    ? behaviour.mailboxAfterMs === undefined
      ? known.times.mailboxAfterMs
      : behaviour.mailboxAfterMs
    : null;
  const giveUp = target.giveUpAfterMs ?? null;
  leg.giveUpAt = giveUp === null ? NEVER : run.now + giveUp;
  const silently = (word: FailureWord) => {
    if (isNumber && mailboxAfter !== null && word !== 'do-not-disturb')
      leg.voicemailAt = run.now + (behaviour.offAnswerMs ?? known.times.offAnswerMs);
    else {
      leg.failAt = readyAt;
      leg.failWord = word;
    }
  };
  switch (state) {
    case 'off':
      return silently('unreachable');
    case 'busy':
      return silently('busy');
    case 'do-not-disturb':
      if (!isNumber) return silently('do-not-disturb');
      leg.alertAt = readyAt;
      leg.voicemailAt = after(mailboxAfter);
      return;
    case 'auto-answer':
      leg.alertAt = readyAt;
      leg.answerAt = readyAt;
      return;
    case 'ready':
    case 'asleep':
      leg.alertAt = readyAt;
      leg.answerAt = after(behaviour.answerAfterMs);
      leg.rejectAt = after(behaviour.rejectAfterMs);
      leg.voicemailAt = after(mailboxAfter);
  }
}

/** An answer, by a person or a carrier's voicemail. Returns true if it connects the call. */
function answer(run: Run, leg: LiveLeg, byVoicemail: boolean): boolean {
  const { target, known, setting } = leg.planned;
  note(
    run,
    byVoicemail ? 'voicemail' : 'answered',
    byVoicemail
      ? `The carrier's voicemail answers at ${known.endpoint.label}, ${seconds(run.now - leg.dialAt)} after dialling.`
      : `${known.endpoint.label} is answered, ${seconds(run.now - leg.dialAt)} after dialling.`,
    { endpoint: known.endpoint.id },
  );
  if (run.now - leg.dialAt < (target.acceptAfterMs ?? 0)) {
    finish(run, leg, 'before-guard');
    return false;
  }
  leg.byVoicemail = byVoicemail;
  if ((target.confirm ?? 'none') === 'none') return true;
  const behaviour = behaviourOf(run, known.endpoint.id);
  const within = run.index.settings.confirmWithinMs;
  const from = run.now;
  const press = behaviour.pressAfterMs === undefined ? 3000 : behaviour.pressAfterMs;
  const at = (ms: Ms | null | undefined) =>
    byVoicemail || ms === null || ms === undefined ? NEVER : from + ms;
  leg.phase = 'confirming';
  leg.answerAt = at(press);
  leg.rejectAt = at(behaviour.refuseAfterMs);
  leg.failAt = from + within;
  leg.failWord = 'not-confirmed';
  leg.voicemailAt = NEVER;
  leg.giveUpAt = NEVER;
  note(
    run,
    'answered',
    `${known.endpoint.label} must accept by ${target.confirm === 'pin' ? 'PIN' : 'key'} within ${seconds(within)}.`,
    {
      endpoint: known.endpoint.id,
      setting: `${setting}.confirm`,
    },
  );
  return false;
}

interface Due {
  readonly atMs: Ms;
  readonly order: Order;
  readonly leg: LiveLeg | null;
}

/** What happens next in the stage: the earliest thing, and of equals the first in the order of an instant. */
function nextDue(run: Run, legs: readonly LiveLeg[], endAt: Ms, stageOpen: boolean): Due {
  let atMs = NEVER;
  let order: Order = ORDER.dial;
  let leg: LiveLeg | null = null;
  const offer = (time: Ms, kind: Order, of: LiveLeg | null) => {
    if (time < atMs || (time === atMs && kind < order)) {
      atMs = time;
      order = kind;
      leg = of;
    }
  };
  for (const each of legs) {
    if (each.phase === 'ended') continue;
    if (each.phase === 'waiting') {
      offer(each.dialAt, ORDER.dial, each);
      continue;
    }
    offer(each.alertAt, ORDER.alerting, each);
    offer(each.answerAt, ORDER.answer, each);
    offer(each.rejectAt, ORDER.reject, each);
    offer(each.failAt, ORDER.failure, each);
    offer(each.voicemailAt, ORDER.voicemail, each);
    offer(each.giveUpAt, ORDER.giveUp, each);
  }
  if (stageOpen) offer(endAt, ORDER.stageEnd, null);
  offer(run.queueEndMs, ORDER.queueEnd, null);
  return { atMs, order, leg };
}

/** Does what is due at one leg. Returns true if the leg connects. */
function act(run: Run, leg: LiveLeg, order: Order): boolean {
  const { endpoint } = leg.planned.known;
  switch (order) {
    case ORDER.alerting:
      leg.alertedAt = run.now;
      leg.alertAt = NEVER;
      note(run, 'alerting', `${endpoint.label} begins to ring.`, { endpoint: endpoint.id });
      return false;
    case ORDER.answer:
      if (leg.phase === 'up') return answer(run, leg, false);
      note(run, 'accepted', `The call is accepted by key at ${endpoint.label}.`, { endpoint: endpoint.id });
      return true;
    case ORDER.reject:
      finish(run, leg, leg.phase === 'up' ? 'rejected' : 'refused');
      return false;
    case ORDER.failure:
      finish(run, leg, leg.failWord);
      return false;
    case ORDER.voicemail:
      return answer(run, leg, true);
    case ORDER.giveUp:
      finish(run, leg, 'given-up');
      return false;
    case ORDER.dial:
      dial(run, leg);
      return false;
    case ORDER.stageEnd:
    case ORDER.queueEnd:
      return false;
  }
}

function connect(run: Run, legs: readonly LiveLeg[], winner: LiveLeg): Stop {
  const { endpoint, owner } = winner.planned.known;
  finish(run, winner, 'connected');
  for (const leg of legs)
    if (leg.phase === 'up' || leg.phase === 'confirming') finish(run, leg, 'answered-elsewhere');
  return {
    stop: {
      kind: winner.byVoicemail ? 'foreign-mailbox' : 'answered',
      atMs: run.now,
      endpoint: endpoint.id,
      ...(owner ? { person: owner.id } : {}),
    },
  };
}

const live = (legs: readonly LiveLeg[]) =>
  legs.filter((leg) => leg.phase === 'up' || leg.phase === 'confirming');

/** Leaves out the targets that do not ring now; the rest are those that will be dialled in this stage. */
function takingPart(run: Run, planned: readonly PlannedTarget[], forMs: Ms): PlannedTarget[] {
  return planned.filter((each) => {
    const why =
      skipReason(run, each) ??
      ((each.target.delayMs ?? 0) < forMs ? null : 'its delay is longer than the stage');
    if (why === null) return true;
    const { endpoint } = each.known;
    note(run, 'skipped', `${endpoint.label} is left out: ${why}.`, {
      endpoint: endpoint.id,
      setting: each.setting,
    });
    return false;
  });
}

/** Asks the caller for a name if a target needs it and it has not been recorded in this call. */
function recordName(run: Run, targets: readonly PlannedTarget[]): Stop | { readonly queueOver: true } | null {
  if (run.nameRecorded || !targets.some((each) => each.target.confirm === 'key-name')) return null;
  const { recordNameMs } = run.index.settings;
  note(run, 'record-name', `The caller is asked for a name, ${seconds(recordNameMs)}.`, {
    setting: targets.find((each) => each.target.confirm === 'key-name')!.setting + '.confirm',
  });
  const until = run.now + recordNameMs;
  const stopped = waitUntil(run, Math.min(until, run.queueEndMs));
  if (stopped) return stopped;
  if (run.queueEndMs < until) return { queueOver: true };
  run.nameRecorded = true;
  return null;
}

/**
 * Runs one ring stage (reach model, section 3, steps 4 to 9) from now.
 * @param forMs how long the stage rings, in ms
 * @returns the call's outcome if it ended in the stage; else that the stage or the queue around it is over.
 */
export function ringStage(run: Run, planned: readonly PlannedTarget[], forMs: Ms): RingResult {
  if (run.now >= run.queueEndMs) return { queueOver: true };
  const targets = takingPart(run, planned, forMs);
  const asked = recordName(run, targets);
  if (asked) return asked;
  const start = run.now;
  const endAt = start + forMs;
  const legs = targets.map((each): LiveLeg => ({
    planned: each,
    dialAt: start + (each.target.delayMs ?? 0),
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
  }));
  let stageOpen = true;
  while (legs.some((leg) => leg.phase !== 'ended')) {
    const due = nextDue(run, legs, endAt, stageOpen);
    const stopped = waitUntil(run, due.atMs);
    if (stopped) {
      for (const leg of live(legs)) finish(run, leg, 'caller-gone');
      return stopped;
    }
    if (due.order === ORDER.queueEnd) {
      for (const leg of live(legs)) finish(run, leg, 'no-answer');
      return { queueOver: true };
    }
    if (due.order === ORDER.stageEnd) {
      stageOpen = false;
      for (const leg of legs.filter((each) => each.phase === 'up')) finish(run, leg, 'no-answer');
    } else if (due.leg && act(run, due.leg, due.order)) return connect(run, legs, due.leg);
  }
  return { through: true };
}
