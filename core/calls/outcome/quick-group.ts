import type { QuickGroup, QuickMember } from './quick-compile';
import { takesPart, take, ring } from './quick-ring';
import { rankedRingMs, rankOfMember, seatNow, seatTarget } from './quick-seats';
import { chosen, forwardOf } from './quick-stages';
import { THROUGH, OVER, type QuickState } from './quick-state';

function takeMember(state: QuickState, member: QuickMember, forMs: number, permission: string): void {
  if ('seat' in member) {
    const target = seatTarget(state, member.seat, permission);
    if (target === null) return;
    state.part[state.parts] = target;
    state.parts += 1;
    return;
  }
  if ('target' in member) {
    if (takesPart(state, member.target, forMs)) {
      state.part[state.parts] = member.target;
      state.parts += 1;
    }
    return;
  }
  const person = state.quick.person(member.person);
  const line = person.lines[0] ?? null;
  if ((line && forwardOf(state, line)) || state.world.activeCalls[member.person]! >= person.maxCalls) return;
  const { firstRing } = chosen(state, person, line?.id ?? null);
  if (firstRing) take(state, firstRing, forMs);
}

function setOrder(state: QuickState, group: QuickGroup): void {
  const count = group.members.length;
  if (state.order.length < count) state.order = new Int32Array(count * 2);
  const last = group.mode === 'circular' ? state.groupLast?.[group.id] : undefined;
  const first = last === undefined || count === 0 ? 0 : (last + 1) % count;
  for (let i = 0; i < count; i += 1) state.order[i] = (first + i) % count;
  const ranked = group.mode === 'by-rank';
  if (group.mode !== 'longest-idle' && !ranked) return;
  const idle = (at: number) => {
    const member = group.members[at]!;
    return ('seat' in member ? seatNow(state, member.id).idleMs : state.idleMs?.[member.id]) ?? 0;
  };
  const rank = (at: number) => (ranked ? rankOfMember(group.members[at]!) : 0);
  /** Whether the one that stands before is to come after. */
  const after = (before: number, moving: number) =>
    rank(before) > rank(moving) || (rank(before) === rank(moving) && idle(before) < idle(moving));
  for (let i = 1; i < count; i += 1) {
    const moving = state.order[i]!;
    let to = i;
    while (to > 0 && after(state.order[to - 1]!, moving)) {
      state.order[to] = state.order[to - 1]!;
      to -= 1;
    }
    state.order[to] = moving;
  }
}

export function groupRound(state: QuickState, group: QuickGroup): number {
  if (group.mode === 'simultaneous') {
    state.parts = 0;
    for (let i = 0; i < group.members.length; i += 1)
      takeMember(state, group.members[i]!, group.ringMs, group.permission);
    return ring(state, group.ringMs);
  }
  setOrder(state, group);
  for (let i = 0; i < group.members.length; i += 1) {
    if (state.now >= state.queueEnd) return OVER;
    state.parts = 0;
    const member = group.members[state.order[i]!]!;
    const forMs = group.mode === 'by-rank' ? rankedRingMs(member, group.ringMs) : group.ringMs;
    takeMember(state, member, forMs, group.permission);
    const rung = ring(state, forMs);
    if (rung !== THROUGH) return rung;
  }
  return THROUGH;
}
