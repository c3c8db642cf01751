import { callerHolds, type Press } from '../engine';
import type { QuickEnding, QuickPerson, QuickTreatment, QuickWhen } from './quick-compile';
import { take, ring } from './quick-ring';
import { THROUGH, OVER, ENDED, NO_PRESS, ENDING, wait, type QuickState } from './quick-state';

function cutWait(state: QuickState, untilMs: number): number {
  if (wait(state, Math.min(untilMs, state.queueEnd))) return ENDED;
  return state.queueEnd < untilMs ? OVER : THROUGH;
}

export function pressed(state: QuickState, id: string, totalMs: number): Press | null {
  const press = state.presses && Object.hasOwn(state.presses, id) ? state.presses[id]! : null;
  return press !== null && press.afterMs <= totalMs ? press : null;
}

export function stages(state: QuickState, treatment: QuickTreatment): number {
  for (let i = 0; i < treatment.stages.length; i += 1) {
    if (state.now >= state.queueEnd) return OVER;
    const stage = treatment.stages[i]!;
    if (stage.kind === 'ring') {
      state.parts = 0;
      take(state, stage.targets, stage.forMs);
      const rung = ring(state, stage.forMs);
      if (rung !== THROUGH) return rung;
    } else if (stage.kind === 'offer') {
      const press = pressed(state, 'offer', stage.totalMs);
      let choice = -1;
      for (let c = 0; press !== null && c < stage.choices.length; c += 1)
        if (choice < 0 && stage.choices[c]!.key === press.key) choice = c;
      const cut = cutWait(state, state.now + (choice >= 0 ? press!.afterMs : stage.totalMs));
      if (cut !== THROUGH) return cut;
      if (choice < 0) return NO_PRESS;
      const { then } = stage.choices[choice]!;
      if (then !== null) {
        state.chosenEnding = then;
        return ENDING;
      }
    } else {
      const inTime = state.code !== undefined && state.code.afterMs <= stage.withinMs;
      const cut = cutWait(state, state.now + (inTime ? state.code!.afterMs : stage.withinMs));
      if (cut !== THROUGH) return cut;
      if (!inTime || state.code!.digits !== stage.digits) {
        state.chosenEnding = stage.wrong;
        return ENDING;
      }
    }
  }
  return THROUGH;
}

function holds(state: QuickState, when: QuickWhen, line: string | null): boolean {
  if ((when.arrivals & state.arrival) === 0) return false;
  if (when.lines !== null && (line === null || !when.lines.includes(line))) return false;
  if (when.caller !== null && when.caller !== undefined && !callerHolds(when.caller, state.from))
    return false;
  return when.clock === null || when.clock.inside(state.start + state.now) === when.inside;
}

export function chosen(state: QuickState, person: QuickPerson, line: string | null): QuickTreatment {
  for (let i = 0; i < person.rules.length; i += 1)
    if (holds(state, person.rules[i]!.when, line)) return person.rules[i]!.then;
  return person.otherwise;
}

export function forwardOf(state: QuickState, line: QuickPerson['lines'][number]): QuickEnding | null {
  return line.forwardAll !== null && state.start + state.now >= line.untilMs ? line.after : line.forwardAll;
}
