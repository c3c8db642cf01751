import type { Arrival, CallerTest, Line, Person, Rule, ScheduleTest, Treatment } from '../estate';
import { scheduleClock } from '../time';
import type { EstateIndex } from './compile';
import { ask, askSchedule, type Run } from './state';

/** Whether a schedule test holds at a moment (ms since 1970 UTC). */
export function scheduleHolds(index: EstateIndex, test: ScheduleTest, epochMs: number): boolean {
  const schedule = index.schedules.get(test.id);
  return schedule !== undefined && scheduleClock(schedule).inside(epochMs) === test.inside;
}

/** Whether the caller (E.164, extension, or null for withheld) is of the class that a rule asks for. */
export function callerHolds(test: CallerTest, from: string | null): boolean {
  switch (test.class) {
    case 'anonymous':
      return from === null;
    case 'internal':
      return from !== null && !from.startsWith('+');
    case 'external':
      return from !== null && from.startsWith('+');
    case 'listed':
      return from !== null && (test.numbers ?? []).some((prefix) => from.startsWith(prefix));
  }
}

export interface Circumstances {
  readonly from: string | null;
  readonly arrival: Arrival;
  readonly line: Line | undefined;
  readonly epochMs: number;
  /** The call that looks for a rule; it notes what is looked at. */
  readonly run?: Run;
}

function ruleHolds(index: EstateIndex, person: Person, rule: Rule, now: Circumstances): boolean {
  const { status, schedule, line, caller, arrival } = rule.when;
  if (status && !status.includes(person.status)) return false;
  if (line && !(now.line && line.includes(now.line.id))) return false;
  if (arrival) {
    if (now.run) ask(now.run, 'arrival');
    if (!arrival.includes(now.arrival)) return false;
  }
  if (caller) {
    if (now.run) ask(now.run, 'caller');
    if (!callerHolds(caller, now.from)) return false;
  }
  if (!schedule) return true;
  if (now.run) askSchedule(now.run.asked, schedule.id, now.run.now);
  return scheduleHolds(index, schedule, now.epochMs);
}

export interface Chosen {
  readonly rule: Rule | null;
  /** The rule's id, or `otherwise`. */
  readonly name: string;
  readonly treatment: Treatment;
}

/** The first rule of the person's plan that holds, or the plan's `otherwise`. */
export function chooseTreatment(index: EstateIndex, person: Person, now: Circumstances): Chosen {
  const rule = person.plan.rules.find((candidate) => ruleHolds(index, person, candidate, now));
  return rule
    ? { rule, name: rule.id, treatment: rule }
    : { rule: null, name: 'otherwise', treatment: person.plan.otherwise };
}
