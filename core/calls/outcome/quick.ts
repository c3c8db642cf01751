import { instantOf } from '../time';
import type { Arrival } from '../../estate';
import { callerKnown, type Call, type EstateIndex, type Outcome } from '../engine';
import { arrivalBit, type QuickEstate } from './quick-compile';
import { runGroup, runMenu, runPerson } from './quick-endings';
import { stateCode, type QuickWorld } from './quick-leg';
import { placeSeatPhones } from './quick-seats';
import { end, ENDED, newState, NEVER, THROUGH, type QuickResult, type QuickState } from './quick-state';

export type { QuickResult };

export interface QuickRunner {
  readonly estate: QuickEstate;
  /** What the next call meets; the caller writes into it. */
  readonly world: QuickWorld;
  /** Puts everything back to its default. */
  readonly reset: () => void;
  /** Runs a call on the world as it stands. The same object is given back each time. */
  readonly run: (
    from: string | null,
    to: string,
    epochMs: number,
    patienceMs?: number,
    arrival?: Arrival,
  ) => QuickResult;
  /** The outcome of the call run last, as a trace would have it. */
  readonly outcome: () => Outcome;
  /** Runs a call as `runCall` does, and gives its outcome alone. */
  readonly outcomeOf: (call: Call) => Outcome;
}

/** Puts what the next call meets back to its default. */
function reset(state: QuickState): void {
  const { world } = state;
  world.state.fill(0);
  for (const own of [world.setupMs, world.mailboxAfterMs, world.offAnswerMs]) own.fill(Number.NaN);
  for (const never of [world.answerAfterMs, world.rejectAfterMs, world.refuseAfterMs]) never.fill(NEVER);
  world.pressAfterMs.fill(3000);
  world.activeCalls.fill(0);
  world.trunkUse.fill(0);
  state.presses = undefined;
  state.code = undefined;
  state.groupLast = undefined;
  state.idleMs = undefined;
  state.seats = undefined;
}

/** Runs a call to a number or extension on the world as it stands. */
function runTo(
  state: QuickState,
  caller: string | null,
  to: string,
  epochMs: number,
  patienceMs: number,
  came: Arrival,
): QuickResult {
  const { index, quick, result } = state;
  state.from = callerKnown(index, caller);
  state.start = epochMs;
  state.patience = patienceMs;
  state.now = 0;
  state.queueEnd = NEVER;
  state.named = false;
  state.arrival = arrivalBit(came);
  state.hops = 0;
  state.visit += 1;
  result.message = '';
  if (patienceMs <= 0) {
    end(state, 'abandoned', -1, -1, '');
    return result;
  }
  const destination = index.destinations.get(to);
  if (!destination) {
    end(state, 'failed', -1, -1, 'no-such-number');
    return result;
  }
  state.atPerson = state.atGroup = state.atMenu = -1;
  if (destination.kind === 'line') {
    state.atPerson = quick.personAt.get(destination.person.id)!;
    state.atLine = destination.line.id;
  } else if (destination.kind === 'group') state.atGroup = quick.groupAt.get(destination.group.id)!;
  else state.atMenu = quick.menuAt.get(destination.menu.id)!;
  for (let went = THROUGH; went !== ENDED;) {
    const { atPerson: person, atGroup: group, atMenu: menu } = state;
    state.atPerson = state.atGroup = state.atMenu = -1;
    went =
      person >= 0 ? runPerson(state, person) : group >= 0 ? runGroup(state, group) : runMenu(state, menu);
  }
  return result;
}

/** A world in which nothing is told of any phone, and of the seats what is given; left out: nobody is at any. */
function begin(state: QuickState, seats?: NonNullable<Call['world']>['seats']): void {
  reset(state);
  if (state.quick.seats.length > 0) placeSeatPhones(state, state.index, seats);
}

/** Writes what a call meets into the state. */
function load(state: QuickState, call: Call): void {
  const { world: given } = call;
  begin(state, given?.seats);
  const { quick, world, estate } = state;
  for (const [id, behaviour] of Object.entries(given?.endpoints ?? {})) {
    const slot = quick.slotOf.get(id);
    if (slot === undefined) continue;
    const never = (ms: number | null | undefined, left: number) => (ms === undefined ? left : (ms ?? NEVER));
    world.state[slot] = stateCode(behaviour.state ?? 'ready');
    world.setupMs[slot] = behaviour.setupMs ?? Number.NaN;
    world.answerAfterMs[slot] = never(behaviour.answerAfterMs, NEVER);
    world.rejectAfterMs[slot] = never(behaviour.rejectAfterMs, NEVER);
    world.mailboxAfterMs[slot] = never(behaviour.mailboxAfterMs, Number.NaN);
    world.offAnswerMs[slot] = behaviour.offAnswerMs ?? Number.NaN;
    world.pressAfterMs[slot] = never(behaviour.pressAfterMs, 3000);
    world.refuseAfterMs[slot] = never(behaviour.refuseAfterMs, NEVER);
  }
  for (const [id, calls] of Object.entries(given?.activeCalls ?? {})) {
    const at = quick.personAt.get(id);
    if (at !== undefined) world.activeCalls[at] = calls;
  }
  for (const [at, trunk] of estate.trunks.entries()) world.trunkUse[at] = given?.trunkUse?.[trunk.id] ?? 0;
  state.presses = given?.presses;
  state.code = given?.code;
  state.groupLast = given?.groupLast;
  state.idleMs = given?.idleMs;
}

/**
 * The engine without its trace: the same outcomes as `runCall` (a property test holds the two together), for runs in
 * their millions. Legs are worked out one by one, which is enough where no two of them compete for a channel; where
 * they do, in the order in which they are dialled. Makes no objects while it runs.
 */
export function quickRunner(index: EstateIndex): QuickRunner {
  const state = newState(index);
  begin(state);
  const outcome = () => outcomeFrom(index, state.quick, state.result);
  return {
    estate: state.quick,
    world: state.world,
    reset: () => begin(state),
    run: (caller, to, epochMs, patienceMs = NEVER, came = 'direct') =>
      runTo(state, caller, to, epochMs, patienceMs, came),
    outcome,
    outcomeOf: (call) => {
      load(state, call);
      const { from, to, at, patienceMs, arrival } = call;
      runTo(state, from, to, instantOf(at) ?? Number.NaN, patienceMs ?? NEVER, arrival ?? 'direct');
      return outcome();
    },
  };
}

/** A quick result as the outcome that a trace would have. */
function outcomeFrom(index: EstateIndex, quick: QuickEstate, came: QuickResult): Outcome {
  const { kind, atMs } = came;
  const person = came.person >= 0 ? { person: index.estate.people[came.person]!.id } : {};
  switch (kind) {
    case 'answered':
    case 'carrier-voicemail':
      return { kind, atMs, endpoint: quick.slots[came.endpoint]!.endpoint.id, ...person };
    case 'mailbox':
      return { kind, atMs, person: index.estate.people[came.person]!.id };
    case 'played':
      return { kind, atMs, seat: came.reason };
    case 'hung-up':
      return { kind, atMs, message: came.message };
    case 'loop':
      return { kind, atMs, ...person };
    case 'failed':
      return { kind, atMs, reason: came.reason };
    case 'abandoned':
    case 'unanswered':
      return { kind, atMs };
  }
}
