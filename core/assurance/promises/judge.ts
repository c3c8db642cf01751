import { showNumber } from '../../calls/dialling';
import type { Ms, Person } from '../../estate';
import {
  isLost,
  endpointName,
  outcomeText,
  seconds,
  type Call,
  type DetailedRun,
  type EstateIndex,
  type Leg,
  isGone,
  longestSilence,
  endpointAt,
} from '../../calls/engine';
import { instantOf, scheduleClock } from '../../calls/time';
import type { ReachPromise } from './types';

/** Whether a call keeps a promise: null; else a function that says in a sentence how it breaks it. */
export type Judge = (call: Call, run: DetailedRun) => (() => string) | null;

const KEPT_OUT: readonly Leg['end'][] = ['bad-number', 'not-permitted', 'no-route'];

/** Whether every phone did what it does when nobody is there: nobody answered, rejected or refused. */
const nobodyActed = (call: Call): boolean =>
  Object.values(call.world?.endpoints ?? {}).every(
    (does) =>
      (does.answerAfterMs ?? null) === null &&
      (does.rejectAfterMs ?? null) === null &&
      does.state !== 'auto-answer',
  );
const nothingChosen = (call: Call): boolean =>
  Object.keys(call.world?.presses ?? {}).length === 0 && call.world?.code === undefined;

function judgeOwnMailbox(index: EstateIndex, person: Person, withinMs: Ms): Judge {
  return (call, { trace: { outcome } }) => {
    if (outcome.kind === 'answered' || !nobodyActed(call) || !nothingChosen(call)) return null;
    if (outcome.kind === 'mailbox' && outcome.person === person.id && outcome.atMs <= withinMs) return null;
    return () =>
      outcome.kind === 'mailbox' && outcome.person === person.id
        ? `The mailbox takes the call only after ${seconds(outcome.atMs)}.`
        : outcomeText(index, outcome);
  };
}

function judgeCutOff(index: EstateIndex, person: Person, withinMs: Ms): Judge {
  return (call, { trace }) => {
    for (const leg of trace.legs) {
      const does = call.world?.endpoints?.[leg.endpoint];
      const after = does?.answerAfterMs;
      const byPerson = does?.state === undefined || does.state === 'ready' || does.state === 'asleep';
      if (leg.end !== 'before-guard' || !byPerson || typeof after !== 'number' || after > withinMs) continue;
      if (leg.alertMs === null || leg.endMs - leg.alertMs !== after) continue;
      return () =>
        `Whoever answers ${endpointName(index, leg.endpoint, person.id)} ${seconds(after)} after it begins to ring is cut off by the answer guard.`;
    }
    return null;
  };
}

function judgeOnlyInside(index: EstateIndex, person: Person, scheduleId: string): Judge {
  const schedule = index.schedules.get(scheduleId);
  const clock = schedule ? scheduleClock(schedule) : null;
  const mobiles = new Set(
    person.endpoints.filter(({ kind }) => kind === 'mobile' || kind === 'mobile-app').map(({ id }) => id),
  );
  return (call, { trace }) => {
    if (!clock) return null;
    const began = instantOf(call.at) ?? 0;
    const leg = trace.legs.find(
      (each) => mobiles.has(each.endpoint) && each.alertMs !== null && !clock.inside(began + each.alertMs),
    );
    return leg
      ? () => `${endpointName(index, leg.endpoint, person.id)} rings outside “${schedule?.name}”.`
      : null;
  };
}

function judgeLeavers(index: EstateIndex, status: string): Judge {
  return (_call, { trace }) => {
    const leg = trace.legs.find(
      (each) => each.alertMs !== null && endpointAt(index, each.endpoint).owner?.status === status,
    );
    return leg ? () => `${endpointName(index, leg.endpoint)} rings, whose owner has left.` : null;
  };
}

/** Makes the judge of a promise for one person. */
export function judgeOf(promise: ReachPromise, index: EstateIndex, person: Person): Judge {
  switch (promise.kind) {
    case 'own-mailbox':
      return judgeOwnMailbox(index, person, promise.withinMs);
    case 'no-carrier-voicemail':
      return (_call, { trace: { outcome } }) =>
        outcome.kind === 'carrier-voicemail' ? () => outcomeText(index, outcome) : null;
    case 'no-cut-off':
      return judgeCutOff(index, person, promise.withinMs);
    case 'only-inside':
      return judgeOnlyInside(index, person, promise.schedule);
    case 'rings-within':
      return (_call, { trace }) => {
        const first = Math.min(...trace.legs.map((leg) => leg.alertMs ?? Infinity));
        if (first <= promise.withinMs) return null;
        return () =>
          first === Infinity
            ? `Nothing rings at all before the call ends after ${seconds(trace.outcome.atMs)}.`
            : `Nothing rings before ${seconds(first)}.`;
      };
    case 'no-silence':
      return (_call, run) => {
        if (run.trace.outcome.atMs <= promise.longestMs) return null;
        const [from, to] = longestSilence(run);
        return to - from > promise.longestMs
          ? () => `The caller hears nothing from ${seconds(from)} to ${seconds(to)}.`
          : null;
      };
    case 'no-loop':
      return (_call, { trace: { outcome } }) =>
        outcome.kind === 'loop' || (outcome.kind === 'failed' && outcome.reason === 'too-many-hops')
          ? () => outcomeText(index, outcome)
          : null;
    case 'one-lost':
      return (call, { trace }) => {
        // A phone of which nothing is said is as the estate has it.
        const out = Object.entries(call.world?.endpoints ?? {}).filter(
          ([, does]) => Object.keys(does).length > 0,
        );
        const [only] = out;
        if (out.length !== 1 || !only || !isGone(only[1].state)) return null;
        if (isLost(trace.outcome.kind)) return () => outcomeText(index, trace.outcome);
        if (trace.outcome.kind === 'played') return null;
        const rings = trace.legs.some((leg) => leg.alertMs !== null && leg.endpoint !== only[0]);
        return rings
          ? null
          : () => `Without ${endpointName(index, only[0], person.id)} nothing rings at all.`;
      };
    case 'wait-at-most':
      return (_call, { trace: { outcome } }) =>
        outcome.atMs > promise.longestMs ? () => `The caller waits ${seconds(outcome.atMs)}.` : null;
    case 'may-dial':
      return (_call, { trace }) => {
        const leg = trace.legs.find((each) => KEPT_OUT.includes(each.end));
        if (!leg) return null;
        return () => {
          const { number } = endpointAt(index, leg.endpoint);
          return `${endpointName(index, leg.endpoint, person.id)} is to ring, but ${number ? showNumber(number) : 'it'} may not or cannot be dialled.`;
        };
      };
    case 'no-leaver':
      return judgeLeavers(index, promise.status);
    case 'no-stranger':
      return (_call, { trace: { outcome } }) =>
        outcome.kind === 'mailbox' &&
        outcome.person !== person.id &&
        !promise.allowed.includes(outcome.person)
          ? () => outcomeText(index, outcome)
          : null;
  }
}
