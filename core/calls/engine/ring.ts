import { fieldOf, NO_SETTING, type SettingRef, type Ms } from '../../estate';
import { scheduleHeld } from './choose';
import { answer, dial, finish, NEVER, newLeg, type LiveLeg, type PlannedTarget } from './leg';
import { arrivalOf, band, isRegisteredNow, note, seconds, waitUntil, type Run, type Stop } from './state';

export type RingResult = Stop | { readonly through: true } | { readonly queueOver: true };

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

const labelOf = (run: Run, id: string) => run.index.endpoints.get(id)?.endpoint.label ?? id;

/** Why a target is left out of this stage, in words; null if it takes part. */
function skipReason(run: Run, planned: PlannedTarget): string | null {
  const { target } = planned;
  if (target.enabled === false) return 'switched off in the plan';
  if (target.arrivals) {
    const arrival = arrivalOf(run);
    if (!target.arrivals.includes(arrival))
      return `set not to ring for calls that come ${arrival === 'direct' ? 'direct' : `by ${arrival}`}`;
  }
  if (target.schedule && !scheduleHeld(run, target.schedule)) {
    const name = run.index.schedules.get(target.schedule.id)?.name ?? target.schedule.id;
    return `set to ring only ${target.schedule.inside ? 'inside' : 'outside'} "${name}"`;
  }
  if (target.whileRegistered && !isRegisteredNow(run, target.whileRegistered))
    return `set to ring only while ${labelOf(run, target.whileRegistered)} is registered`;
  if (target.unlessRegistered && isRegisteredNow(run, target.unlessRegistered))
    return `set to ring only while ${labelOf(run, target.unlessRegistered)} is not registered`;
  const score = target.onlyQuality === undefined ? undefined : run.index.lineScores.get(target.endpoint);
  if (score !== undefined && score < (target.onlyQuality ?? 0))
    return `its line was measured at MOS ${score.toFixed(1)}, and it is set to ring only from ${target.onlyQuality}`;
  return null;
}

interface Due {
  atMs: Ms;
  order: Order;
  leg: LiveLeg | null;
}

/** Takes a moment into account if it comes before what is due so far; of equals the first stays. */
function sooner(due: Due, atMs: Ms, order: Order, leg: LiveLeg | null): void {
  if (atMs > due.atMs || (atMs === due.atMs && order >= due.order)) return;
  due.atMs = atMs;
  due.order = order;
  due.leg = leg;
}

/** What happens next in the stage: the earliest thing, and of equals the first in the order of an instant. */
function nextDue(run: Run, legs: readonly LiveLeg[], endAt: Ms, stageOpen: boolean): Due {
  const due: Due = { atMs: NEVER, order: ORDER.dial, leg: null };
  for (const each of legs) {
    if (each.phase === 'ended') continue;
    if (each.phase === 'waiting') {
      sooner(due, each.dialAt, ORDER.dial, each);
      continue;
    }
    sooner(due, each.alertAt, ORDER.alerting, each);
    sooner(due, each.answerAt, ORDER.answer, each);
    sooner(due, each.rejectAt, ORDER.reject, each);
    sooner(due, each.failAt, ORDER.failure, each);
    sooner(due, each.voicemailAt, ORDER.voicemail, each);
    sooner(due, each.giveUpAt, ORDER.giveUp, each);
  }
  if (stageOpen) sooner(due, endAt, ORDER.stageEnd, null);
  sooner(due, run.queueEndMs, ORDER.queueEnd, null);
  return due;
}

/** Does what is due at one leg. Returns true if the leg connects. */
function act(run: Run, leg: LiveLeg, order: Order): boolean {
  const { endpoint } = leg.planned.known;
  switch (order) {
    case ORDER.alerting:
      leg.alertedAt = run.now;
      leg.alertAt = NEVER;
      note(run, 'alerting', () => `${endpoint.label} begins to ring.`, { endpoint: endpoint.id });
      return false;
    case ORDER.answer:
      if (leg.phase === 'up') return answer(run, leg, false);
      note(run, 'accepted', () => `The call is accepted with a key at ${endpoint.label}.`, {
        endpoint: endpoint.id,
      });
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
      return dial(run, leg);
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
  const { plays } = winner.planned;
  if (plays !== undefined) return { stop: { kind: 'played', atMs: run.now, seat: plays } };
  return {
    stop: {
      kind: winner.byVoicemail ? 'carrier-voicemail' : 'answered',
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
      ((each.target.delayMs ?? 0) < forMs ? null : 'its delay is longer than the step');
    if (why === null) return true;
    const { endpoint } = each.known;
    note(run, 'skipped', () => `${endpoint.label} is left out: ${why}.`, {
      endpoint: endpoint.id,
      setting: each.setting,
      why,
    });
    return false;
  });
}

/** Asks the caller for a name if a target needs it and it has not been recorded in this call. */
function recordName(run: Run, targets: readonly PlannedTarget[]): Stop | { readonly queueOver: true } | null {
  if (run.nameRecorded || !targets.some((each) => each.target.confirm === 'key-name')) return null;
  const { recordNameMs } = run.index.settings;
  note(run, 'record-name', () => `The caller is asked for a name, ${seconds(recordNameMs)}.`, {
    setting: fieldOf(targets.find((each) => each.target.confirm === 'key-name')!.setting, 'confirm'),
  });
  const until = run.now + recordNameMs;
  const from = run.now;
  const stopped = waitUntil(run, Math.min(until, run.queueEndMs));
  band(run, 'name', from, 'name recorded', targets[0]?.setting ?? NO_SETTING);
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
export function ringStage(
  run: Run,
  planned: readonly PlannedTarget[],
  forMs: Ms,
  setting: SettingRef,
): RingResult {
  if (run.now >= run.queueEndMs) return { queueOver: true };
  const targets = takingPart(run, planned, forMs);
  const asked = recordName(run, targets);
  if (asked) return asked;
  const start = run.now;
  const endAt = start + forMs;
  run.stageEndMs = endAt;
  const legs = targets.map((each) => newLeg(each, start));
  const result = runLegs(run, legs, endAt);
  run.stages += 1;
  if (run.now > start) band(run, 'ring', start, `rings up to ${seconds(forMs)}`, setting);
  return result;
}

function runLegs(run: Run, legs: readonly LiveLeg[], endAt: Ms): RingResult {
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
