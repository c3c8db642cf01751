import { DateTime } from 'luxon';
import type { Endpoint, Ms, Person, PersonId } from '../../estate';
import { scheduleClock } from '../time';
import { type EstateIndex, ANY_OUTSIDE_CALLER, type EndpointBehaviour, type Outcome } from '../engine';
import { quickRunner, type QuickRunner, stateCode } from '../outcome';
import { zoneNamed } from '../../zones';

export const HALF_HOUR_MS: Ms = 1_800_000;

/** The circumstances that the week is shown for. */
export const CIRCUMSTANCES = ['nobody', 'at-mobile', 'mobile-off', 'desk-out'] as const;
export type Circumstance = (typeof CIRCUMSTANCES)[number];
export const CIRCUMSTANCE_WORDS: Record<Circumstance, string> = {
  nobody: 'nobody answers',
  'at-mobile': 'mobile answers',
  'mobile-off': 'mobile off',
  'desk-out': 'desk not registered',
};

/** Where a call ends, as seen from the person who is called; worst last. */
export const WEEK_ENDS = ['own-phone', 'colleague', 'own-mailbox', 'other-mailbox', 'ended', 'lost'] as const;
export type WeekEnd = (typeof WEEK_ENDS)[number];
export const WEEK_END_WORDS: Record<WeekEnd, string> = {
  'own-phone': 'answered by the person',
  colleague: 'answered by a colleague',
  'own-mailbox': 'own mailbox',
  'other-mailbox': 'somebody else’s mailbox',
  ended: 'the call is ended',
  lost: 'lost',
};

/** One half hour of the week. */
export interface WeekCell {
  readonly atMs: number;
  readonly end: WeekEnd;
  readonly outcome: Outcome;
  /** Another ending comes up within this half hour, when a schedule turns. */
  readonly mixed: boolean;
  /** Whose call it is, where the map is of several people. */
  readonly person: string;
}

/** Where an outcome puts a call for a person, or for one of several. */
export function weekEnd(outcome: Outcome, own: PersonId | readonly PersonId[]): WeekEnd {
  const isOwn = (person: PersonId | null | undefined) =>
    typeof person === 'string' && (typeof own === 'string' ? own === person : own.includes(person));
  switch (outcome.kind) {
    case 'answered':
      return isOwn(outcome.person) ? 'own-phone' : 'colleague';
    case 'mailbox':
      return isOwn(outcome.person) ? 'own-mailbox' : 'other-mailbox';
    case 'played':
    case 'hung-up':
    case 'abandoned':
      return 'ended';
    case 'carrier-voicemail':
    case 'loop':
    case 'failed':
    case 'unanswered':
      return 'lost';
  }
}

const ANSWER_AFTER_MS = 4000;
const DESKS: readonly Endpoint['kind'][] = ['desk', 'remote-desk', 'hot-desk'];

/** What an endpoint of the person does in a circumstance; null: as ever. */
export function behaviourIn(circumstance: Circumstance, { kind }: Endpoint): EndpointBehaviour | null {
  switch (circumstance) {
    case 'nobody':
      return null;
    case 'at-mobile':
      return kind === 'mobile' ? { answerAfterMs: ANSWER_AFTER_MS } : null;
    case 'mobile-off':
      return kind === 'mobile' ? { state: 'off' } : null;
    case 'desk-out':
      return DESKS.includes(kind) ? { state: 'unregistered' } : null;
  }
}

function arrange(runner: QuickRunner, circumstance: Circumstance, people: readonly Person[]): void {
  runner.reset();
  for (const endpoint of people.flatMap((person) => person.endpoints)) {
    const slot = runner.estate.slotOf.get(endpoint.id);
    const behaviour = behaviourIn(circumstance, endpoint);
    if (slot === undefined || !behaviour) continue;
    if (behaviour.state) runner.world.state[slot] = stateCode(behaviour.state);
    if (typeof behaviour.answerAfterMs === 'number')
      runner.world.answerAfterMs[slot] = behaviour.answerAfterMs;
  }
}

/** A line that is called, and whose phones and mailboxes count as its own. */
export interface Called {
  readonly extension: string;
  readonly own: readonly PersonId[];
}
const linesOf = (people: readonly Person[]): readonly Called[] =>
  people.flatMap(({ id, lines: [line] }) => (line ? [{ extension: line.extension, own: [id] }] : []));

/** The instants at which the days of a week begin in a zone, and the end of the last; from its Monday. */
export function weekDays(epochMs: number, timeZone: string): readonly number[] {
  const monday = DateTime.fromMillis(epochMs, { zone: zoneNamed(timeZone) }).startOf('week');
  return Array.from({ length: 8 }, (_, i) => monday.plus({ days: i }).toMillis());
}

/**
 * Each half hour of one day, by where a call from outside ends: for several lines, by the worst of them.
 * @param people whose phones are as the circumstance has it
 * @param called the lines that are called; left out: each person's first
 * @param from, to the beginning and end of the day, ms since 1970; a day has 46 to 50 half hours where clocks change
 */
export function weekDay(
  index: EstateIndex,
  runner: QuickRunner,
  people: readonly Person[],
  circumstance: Circumstance,
  from: number,
  to: number,
  called: readonly Called[] = linesOf(people),
): WeekCell[] {
  const clocks = index.estate.schedules.map((schedule) => scheduleClock(schedule));
  const cells: WeekCell[] = [];
  arrange(runner, circumstance, people);
  const next = clocks.map((clock) => clock.nextChange(from));
  const endAt = ({ extension, own }: Called, at: number): WeekCell => {
    runner.run(ANY_OUTSIDE_CALLER, extension, at);
    const outcome = runner.outcome();
    return { atMs: at, end: weekEnd(outcome, own), outcome, mixed: false, person: own[0] ?? '' };
  };
  const rank = (cell: WeekCell) => WEEK_ENDS.indexOf(cell.end);
  for (let at = from; at < to; at += HALF_HOUR_MS) {
    for (const [i, clock] of clocks.entries()) if (next[i]! <= at) next[i] = clock.nextChange(at);
    const turns = next.filter((turn) => turn < at + HALF_HOUR_MS);
    let worst: WeekCell | null = null;
    for (const line of called) {
      let cell = endAt(line, at);
      for (const turn of turns) {
        const then = endAt(line, turn);
        const mixed = cell.mixed || then.end !== cell.end;
        cell = { ...(rank(then) > rank(cell) ? { ...then, atMs: at } : cell), mixed };
      }
      if (!worst || rank(cell) > rank(worst)) worst = cell;
    }
    if (worst) cells.push(worst);
  }
  return cells;
}

/** The whole week around a moment, day by day, in the organisation's zone. */
export function weekMap(
  index: EstateIndex,
  people: readonly Person[],
  circumstance: Circumstance,
  epochMs: number,
  runner = quickRunner(index),
  called: readonly Called[] = linesOf(people),
): WeekCell[][] {
  const days = weekDays(epochMs, index.estate.timeZone);
  return days
    .slice(0, 7)
    .map((from, i) => weekDay(index, runner, people, circumstance, from, days[i + 1]!, called));
}
