import type { Arrival, CallerTest, Line, Person, Rule, ScheduleTest, Treatment } from '../../estate';
import { scheduleClock } from '../time';
import type { EstateIndex } from './compile';
import { askSchedule, epochNow, type Run } from './state';

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

/** Whether a schedule test holds as a call looks at it; that it was looked at is noted. */
export function scheduleHeld(run: Run, test: ScheduleTest): boolean {
  askSchedule(run.asked, test.id, run.now);
  return scheduleHolds(run.index, test, epochNow(run));
}

/** What a rule asks about; each is a question, so that only what is asked is looked at. */
export interface Circumstances {
  readonly caller: () => string | null;
  readonly arrival: () => Arrival;
  readonly line: Line | undefined;
  readonly inside: (test: ScheduleTest) => boolean;
}

function ruleHolds(person: Person, rule: Rule, now: Circumstances): boolean {
  const { status, schedule, line, caller, arrival } = rule.when;
  if (status && !status.includes(person.status)) return false;
  if (line && !(now.line && line.includes(now.line.id))) return false;
  if (arrival && !arrival.includes(now.arrival())) return false;
  if (caller && !callerHolds(caller, now.caller())) return false;
  return !schedule || now.inside(schedule);
}

export interface Chosen {
  readonly rule: Rule | null;
  /** The rule's id, or `otherwise`. */
  readonly name: string;
  readonly treatment: Treatment;
}

/** The first rule of the person's plan that holds, or the plan's `otherwise`. */
export function chooseTreatment(person: Person, now: Circumstances): Chosen {
  const rule = person.plan.rules.find((candidate) => ruleHolds(person, candidate, now));
  return rule
    ? { rule, name: rule.id, treatment: rule }
    : { rule: null, name: 'otherwise', treatment: person.plan.otherwise };
}
