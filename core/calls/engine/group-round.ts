import {
  entryOf,
  type SettingRef,
  settingOf,
  DEFAULT_SEAT,
  forwardAt,
  memberId,
  type Group,
  type Line,
  type Member,
  type Ms,
  type Person,
  type SimpleEnding,
} from '../../estate';
import { untilClockId } from '../time';
import { chooseTreatment, scheduleHeld } from './choose';
import { ringStage } from './ring';
import type { PlannedTarget } from './leg';
import { seatTargets } from './seats';
import {
  activeCallsOf,
  askSchedule,
  callerOf,
  epochNow,
  idleIn,
  lastTurnOf,
  note,
  payerOf,
  seatOf,
  type Run,
} from './state';
import { plannedTargets, type StagesResult } from './stages';

/** Where the line is forwarded to now. */
export function forwardOf(run: Run, line: Line | undefined): SimpleEnding | null {
  if (!line?.forwardAll) return null;
  if (line.forwardUntil !== undefined) askSchedule(run.asked, untilClockId(line), run.now);
  return forwardAt(line, epochNow(run));
}

function leaveOut(run: Run, person: Person, setting: SettingRef, why: string): PlannedTarget[] {
  note(run, 'skipped', () => `${person.name} is left out of the group: ${why}.`, {
    person: person.id,
    setting,
  });
  return [];
}

/** What a member contributes to the group's ringing now (step 13). */
function memberTargets(run: Run, group: Group, member: Member, position: number): readonly PlannedTarget[] {
  const setting = entryOf(settingOf('groups', group.id), 'members', position);
  if ('seat' in member) return seatTargets(run, group, member, setting);
  if ('endpoint' in member) {
    const known = run.index.endpoints.get(member.endpoint);
    if (!known) return [];
    const payer = known.owner ? payerOf(known.owner) : group;
    return [{ target: { endpoint: member.endpoint }, known, payer, setting }];
  }
  const person = run.index.people.get(member.person);
  if (!person) return [];
  const line = person.lines[0];
  if (forwardOf(run, line)) return leaveOut(run, person, setting, 'call forwarding is on for the line');
  const active = activeCallsOf(run, person.id);
  if (active >= person.maxCalls) return leaveOut(run, person, setting, 'no call more is taken at a time');
  const { treatment, rule } = chooseTreatment(person, {
    caller: () => callerOf(run),
    arrival: () => 'group',
    line,
    inside: (test) => scheduleHeld(run, test),
  });
  const at = treatment.stages.findIndex((each) => 'ring' in each);
  const stage = treatment.stages[at];
  if (!stage || !('ring' in stage))
    return leaveOut(run, person, setting, 'the plan rings nothing for group calls');
  const plan = rule
    ? entryOf(settingOf('people', person.id, 'plan'), 'rules', rule.id)
    : settingOf('people', person.id, 'plan', 'otherwise');
  return plannedTargets(run, stage.ring, person, entryOf(plan, 'stages', at));
}

/** Where a member stands in a group that goes by rank: people and phones come after all seats. */
export const rankOf = (member: Member): number => ('seat' in member ? (member.rank ?? 1) : LAST_RANK);
const LAST_RANK = 10;

/** How long each member of a group has been idle: a seat's own time is known with the seat. */
function idleOfMembers(run: Run, group: Group): (member: Member) => Ms {
  const others = group.members.some((member) => !('seat' in member)) ? idleIn(run, group.id) : null;
  const times = new Map(
    group.members.map((member) => {
      const id = memberId(member);
      return [member, 'seat' in member ? (seatOf(run, id).idleMs ?? 0) : (others?.(id) ?? 0)] as const;
    }),
  );
  return (member) => times.get(member) ?? 0;
}

/** How long a member rings where they come one after another. */
const ringFor = (run: Run, group: Group, member: Member): Ms =>
  group.mode === 'by-rank' && 'seat' in member
    ? (run.index.seats.get(member.seat)?.ringMs ?? DEFAULT_SEAT.ringMs)
    : group.ringMs;

/** The members in the order in which this call goes to them, each with where it stands in the group. */
function memberOrder(run: Run, group: Group): readonly (readonly [Member, number])[] {
  const members = group.members.map((member, i) => [member, i] as const);
  if (group.mode === 'circular' && members.length > 0) {
    const last = lastTurnOf(run, group.id);
    const first = last === undefined ? 0 : (last + 1) % members.length;
    return [...members.slice(first), ...members.slice(0, first)];
  }
  if (group.mode === 'longest-idle') {
    const idleOf = idleOfMembers(run, group);
    return [...members].sort(([a], [b]) => idleOf(b) - idleOf(a));
  }
  if (group.mode === 'by-rank') {
    const idleOf = idleOfMembers(run, group);
    return [...members].sort(([a], [b]) => rankOf(a) - rankOf(b) || idleOf(b) - idleOf(a));
  }
  return members;
}

/** Rings a group's members once, as its mode has it. */
export function groupRound(run: Run, group: Group): StagesResult {
  const order = memberOrder(run, group);
  const stages = group.mode === 'simultaneous' ? [order] : order.map((each) => [each]);
  for (const members of stages) {
    if (run.now >= run.queueEndMs) return { queueOver: true };
    const targets = members.flatMap(([member, i]) => memberTargets(run, group, member, i));
    const [first] = members[0] ?? [];
    const forMs = group.mode === 'simultaneous' || !first ? group.ringMs : ringFor(run, group, first);
    const result = ringStage(run, targets, forMs, settingOf('groups', group.id));
    if (!('through' in result)) return result;
  }
  return 'through';
}
