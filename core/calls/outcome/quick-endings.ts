import { callerHolds, LAST_LEG_MS } from '../engine';
import type { QuickEnding, QuickGroup, QuickTarget, QuickTreatment } from './quick-compile';
import { ring } from './quick-ring';
import { pressed, stages, chosen, forwardOf } from './quick-stages';
import { groupRound } from './quick-group';
import {
  THROUGH,
  OVER,
  ENDED,
  ENDING,
  NEVER,
  FORWARDED,
  BY_MENU,
  BY_GROUP,
  end,
  wait,
  type QuickState,
  type Round,
} from './quick-state';

/** What an empty round of a queue waits before the next. */
const QUEUE_PAUSE_MS = 1000;

function round(state: QuickState, what: Round): number {
  return what === null
    ? THROUGH
    : 'treatment' in what
      ? stages(state, what.treatment)
      : groupRound(state, what.group);
}

/** Goes through the queue; afterwards `chosenEnding` applies unless the call has ended. */
function waitInQueue(state: QuickState, maxMs: number, then: QuickEnding, what: Round): number {
  state.queueEnd = state.now + maxMs;
  let came = OVER;
  while (state.now < state.queueEnd) {
    const began = state.now;
    came = round(state, what);
    if (came !== THROUGH) break;
    if (state.now > began) continue;
    if (wait(state, Math.min(what === null ? state.queueEnd : began + QUEUE_PAUSE_MS, state.queueEnd)))
      return ENDED;
  }
  state.queueEnd = NEVER;
  if (came === ENDED) return ENDED;
  if (came !== ENDING) state.chosenEnding = then;
  return THROUGH;
}

function lastLeg(state: QuickState, target: QuickTarget): number {
  state.parts = 0;
  state.part[0] = target;
  state.parts = 1;
  if (ring(state, LAST_LEG_MS) === ENDED) return ENDED;
  return state.leg.word === 'no-answer'
    ? end(state, 'unanswered', -1, -1, '')
    : end(state, 'failed', -1, -1, state.leg.word);
}

/** Whether one hop more is too many. */
function hop(state: QuickState): boolean {
  state.hops += 1;
  if (state.hops <= state.settings.hopLimit) return false;
  end(state, 'failed', -1, -1, 'too-many-hops');
  return true;
}

/** Applies an ending; ENDED, or THROUGH with where the call goes next. */
function conclude(state: QuickState, first: QuickEnding, what: Round): number {
  let ending = first;
  let rounds = what;
  for (;;) {
    switch (ending.kind) {
      case 'mailbox': {
        const { person, enabled } = ending;
        if (person < 0 || !enabled) return end(state, 'failed', -1, -1, 'no-mailbox');
        return end(state, 'mailbox', person, -1, '');
      }
      case 'person':
        state.arrival = ending.fromMenu ? BY_MENU : FORWARDED;
        if (hop(state)) return ENDED;
        state.atPerson = ending.at;
        state.atLine = '';
        return THROUGH;
      case 'group':
        if (hop(state)) return ENDED;
        state.atGroup = ending.at;
        return THROUGH;
      case 'menu':
        if (hop(state)) return ENDED;
        state.atMenu = ending.at;
        return THROUGH;
      case 'hang-up':
        state.result.message = ending.message;
        return end(state, 'hung-up', -1, -1, '');
      case 'last-leg':
        return lastLeg(state, ending.target);
      case 'gone':
        return end(state, 'failed', -1, -1, 'no-such-number');
      case 'queue':
        if (waitInQueue(state, ending.maxMs, ending.then, rounds) === ENDED) return ENDED;
        ending = state.chosenEnding;
        rounds = null;
    }
  }
}

function afterRound(state: QuickState, came: number, ending: QuickEnding, what: Round): number {
  if (came === ENDED) return ENDED;
  if (came === ENDING) return conclude(state, state.chosenEnding, null);
  return conclude(state, ending, what);
}

export function runPerson(state: QuickState, at: number): number {
  if (state.askedIn[at] === state.visit) return end(state, 'loop', at, -1, '');
  state.askedIn[at] = state.visit;
  const person = state.quick.person(at);
  let line = person.lines[0] ?? null;
  if (state.atLine !== '')
    for (let i = 0; i < person.lines.length; i += 1)
      if (person.lines[i]!.id === state.atLine) line = person.lines[i]!;
  const forwarded = line && forwardOf(state, line);
  if (forwarded) return conclude(state, forwarded, null);
  const treatment = chosen(state, person, line?.id ?? null);
  if (state.world.activeCalls[at]! >= person.maxCalls) return conclude(state, treatment.busy, null);
  return afterRound(state, stages(state, treatment), treatment.ending, treatmentRound(state, treatment));
}

function treatmentRound(state: QuickState, treatment: QuickTreatment): Round {
  if (treatment.ending.kind !== 'queue') return null;
  let kept = state.rounds.get(treatment);
  if (!kept) state.rounds.set(treatment, (kept = { treatment }));
  return kept;
}

function groupRoundOf(state: QuickState, group: QuickGroup): Round {
  if (group.ending.kind !== 'queue') return null;
  let kept = state.rounds.get(group);
  if (!kept) state.rounds.set(group, (kept = { group }));
  return kept;
}

export function runGroup(state: QuickState, at: number): number {
  if (state.groupIn[at] === state.visit) return end(state, 'loop', -1, -1, '');
  state.groupIn[at] = state.visit;
  state.arrival = BY_GROUP;
  const group = state.quick.group(at);
  return afterRound(state, groupRound(state, group), group.ending, groupRoundOf(state, group));
}

export function runMenu(state: QuickState, at: number): number {
  if (state.menuIn[at] === state.visit) return end(state, 'loop', -1, -1, '');
  state.menuIn[at] = state.visit;
  const menu = state.quick.menu(at);
  for (let i = 0; i < menu.rules.length; i += 1) {
    const rule = menu.rules[i]!;
    const { when } = rule;
    if (when.clock !== null && when.clock.inside(state.start + state.now) !== when.inside) continue;
    if (when.caller && !callerHolds(when.caller, state.from)) continue;
    const press = pressed(state, menu.id, rule.totalMs);
    let choice: QuickEnding | null = null;
    if (press !== null)
      for (let c = 0; choice === null && c < rule.choices.length; c += 1)
        if (rule.choices[c]!.key === press.key) choice = rule.choices[c]!.then;
    if (wait(state, state.now + (choice ? press!.afterMs : rule.totalMs))) return ENDED;
    return conclude(state, choice ?? rule.otherwise, null);
  }
  return end(state, 'failed', -1, -1, 'no-such-number');
}
