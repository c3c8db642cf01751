import type { GroupMode, Ms } from '../estate';
import { dueHeap } from './heap';
import { measured, type Measured } from './measure';
import { randomFrom } from './random';
import { ringSteps, type ReadySeat, type RingStep } from './ring-order';

/** A group with its seats, all signed on, as it is to be tried out. */
export interface GroupToRun {
  readonly mode: GroupMode;
  readonly ringMs: Ms;
  /** How long a caller waits at most after the first round; null: the group does not have them wait. */
  readonly queueMs: Ms | null;
  readonly seats: readonly {
    readonly rank: number;
    readonly callsAtOnce: number;
    readonly ringMs: Ms;
    readonly wrapUpMs: Ms;
    readonly missesUntilPaused: number;
  }[];
}
/** What comes to it, and how those at the seats are. Times are means of exponential ones. */
export interface GroupLoad {
  readonly callsPerHour: number;
  readonly talkS: number;
  /** From ringing to picking up. */
  readonly pickUpS: number;
  /** The share of ringing that nobody picks up at all. */
  readonly missShare: number;
  /** A paused seat goes on after so long. */
  readonly backAfterS: number;
  /** Left out: callers wait until they are answered or sent on. */
  readonly patienceS?: number;
  readonly withinS: number;
}
export interface GroupRun {
  readonly calls: number;
  readonly answered: Measured;
  readonly within: Measured;
  /** Of all calls, those who give up or are sent on too, s. */
  readonly waitS: Measured;
  readonly abandoned: Measured;
  /** Sent on to what the group ends in. */
  readonly sentOn: Measured;
  /** Share of the time of all seats that goes into calls and wrap-up, and into pauses. */
  readonly occupancy: number;
  readonly paused: number;
  /** Ringing that nobody picked up, for each call. */
  readonly missesPerCall: number;
}

/** A round that takes no time is followed by so long of waiting (reach model, section 3.12). */
const EMPTY_ROUND_MS = 1000;
const WARM_UP = 0.1;
/** Where far too few seats are tried, so many events are gone through and no more. */
const MOST_EVENTS = 30_000_000;

interface Seat {
  calls: number;
  misses: number;
  isPaused: boolean;
  /** Calls that ring here now. */
  readonly ringers: Set<Call>;
  wrapUntil: number;
  idleSince: number;
  busySince: number;
}
interface Call {
  readonly nth: number;
  readonly arrived: number;
  /** Counted up whenever what it waits for is over, so that what was due of it is let pass. */
  turn: number;
  isOver: boolean;
  queueUntil: number | null;
  /** Gives the next step of its round. */
  next: () => RingStep | null;
  /** The seats that ring now. */
  ringing: readonly number[];
}
type Event =
  | { readonly kind: 'arrival' }
  | {
      readonly kind: 'round' | 'step-ends' | 'gives-up' | 'queue-ends';
      readonly call: Call;
      readonly turn: number;
    }
  | { readonly kind: 'picks-up'; readonly call: Call; readonly turn: number; readonly seat: number }
  | { readonly kind: 'talk-ends' | 'goes-on'; readonly seat: number };

/** How far a run has come, 0 to 1; a run that is not to go on is ended by `false`. */
export type OnProgress = (share: number) => boolean;

/**
 * Tries a group out call by call: who rings when, who picks up, misses that pause, wrap-up, rounds of a queue. What
 * Erlang's formulas leave out: the time that ringing takes, missed calls, seats that are looked for anew only every
 * round, and callers who are not served in the order in which they came.
 * @returns null: it was ended
 */
export function runGroup(
  group: GroupToRun,
  load: GroupLoad,
  calls: number,
  seed: number,
  onProgress: OnProgress = () => true,
): GroupRun | null {
  const random = randomFrom(seed);
  const due = dueHeap<Event>();
  const seats = group.seats.map((): Seat => ({
    calls: 0,
    misses: 0,
    isPaused: false,
    ringers: new Set(),
    wrapUntil: 0,
    idleSince: 0,
    busySince: 0,
  }));
  const skipped = Math.floor(calls * WARM_UP);
  const answered: number[] = [];
  const within: number[] = [];
  const waitS: number[] = [];
  const abandoned: number[] = [];
  const sentOn: number[] = [];
  let now = 0;
  let arrivals = 0;
  let settled = 0;
  let last: number | null = null;
  let busyMs = 0;
  let pausedMs = 0;
  let misses = 0;
  const isReady = (seat: Seat, nth: number) =>
    !seat.isPaused && seat.wrapUntil <= now && seat.calls < group.seats[nth]!.callsAtOnce;

  function settle(call: Call, how: 'answered' | 'gave-up' | 'sent-on'): void {
    call.isOver = true;
    stopRinging(call);
    settled += 1;
    if (call.nth < skipped) return;
    const wait = (now - call.arrived) / 1000;
    answered.push(how === 'answered' ? 1 : 0);
    within.push(how === 'answered' && wait <= load.withinS ? 1 : 0);
    waitS.push(wait);
    abandoned.push(how === 'gave-up' ? 1 : 0);
    sentOn.push(how === 'sent-on' ? 1 : 0);
  }
  function beginRound(call: Call): void {
    const ready: ReadySeat[] = [];
    for (const [nth, seat] of seats.entries()) {
      const { rank, ringMs } = group.seats[nth]!;
      if (isReady(seat, nth)) ready.push({ nth, rank, ringMs, idleMs: now - seat.idleSince });
    }
    call.next = ringSteps(group.mode, group.ringMs, ready, last);
    nextStep(call, ready.length === 0);
  }
  function stopRinging(call: Call): void {
    for (const nth of call.ringing) seats[nth]!.ringers.delete(call);
    call.ringing = [];
    call.turn += 1;
  }
  function nextStep(call: Call, isEmpty = false): void {
    stopRinging(call);
    for (let step = call.next(); step; step = call.next()) {
      const { seats: ring, ringMs } = step;
      // A seat that has taken another call by now does not ring.
      const still = ring.filter((nth) => isReady(seats[nth]!, nth));
      if (still.length === 0) continue;
      call.ringing = still;
      for (const nth of still) seats[nth]!.ringers.add(call);
      for (const nth of still) {
        const picksUp = random.next() < load.missShare ? Infinity : random.exponential(load.pickUpS * 1000);
        if (picksUp < ringMs) due.put(now + picksUp, { kind: 'picks-up', call, turn: call.turn, seat: nth });
      }
      due.put(now + ringMs, { kind: 'step-ends', call, turn: call.turn });
      return;
    }
    if (group.queueMs === null) return settle(call, 'sent-on');
    if (call.queueUntil === null) {
      call.queueUntil = now + group.queueMs;
      due.put(call.queueUntil, { kind: 'queue-ends', call, turn: -1 });
    }
    if (now >= call.queueUntil) return settle(call, 'sent-on');
    due.put(now + (isEmpty ? EMPTY_ROUND_MS : 0), { kind: 'round', call, turn: call.turn });
  }
  /** Those who still ring when a step or the queue ends have missed the call. */
  function missed(call: Call): void {
    const paused: number[] = [];
    const { ringing } = call;
    stopRinging(call);
    for (const nth of ringing) {
      const seat = seats[nth]!;
      seat.misses += 1;
      misses += 1;
      if (seat.misses < group.seats[nth]!.missesUntilPaused) continue;
      seat.isPaused = true;
      paused.push(nth);
      const away = random.exponential(load.backAfterS * 1000);
      pausedMs += away;
      due.put(now + away, { kind: 'goes-on', seat: nth });
    }
    paused.forEach(leave);
  }
  function arrive(): void {
    const call: Call = {
      nth: arrivals,
      arrived: now,
      turn: 0,
      isOver: false,
      queueUntil: null,
      next: () => null,
      ringing: [],
    };
    arrivals += 1;
    if (arrivals < calls)
      due.put(now + random.exponential(3_600_000 / load.callsPerHour), { kind: 'arrival' });
    if (load.patienceS !== undefined)
      due.put(now + random.exponential(load.patienceS * 1000), { kind: 'gives-up', call, turn: -1 });
    beginRound(call);
  }
  function pickUp(call: Call, nth: number): void {
    const seat = seats[nth]!;
    // Another call has been taken at this very instant.
    if (!isReady(seat, nth)) return;
    seat.misses = 0;
    if (seat.calls === 0) seat.busySince = now;
    seat.calls += 1;
    last = nth;
    due.put(now + random.exponential(load.talkS * 1000), { kind: 'talk-ends', seat: nth });
    settle(call, 'answered');
    if (!isReady(seat, nth)) leave(nth);
  }
  /** A seat that can take no more stops ringing for other calls, which go on at once where nothing else rings. */
  function leave(nth: number): void {
    const { ringers } = seats[nth]!;
    for (const call of [...ringers]) {
      ringers.delete(call);
      call.ringing = call.ringing.filter((each) => each !== nth);
      if (call.ringing.length === 0) nextStep(call);
    }
  }
  function hangUp(nth: number): void {
    const seat = seats[nth]!;
    seat.calls -= 1;
    seat.idleSince = now;
    if (seat.calls > 0) return;
    const { wrapUpMs } = group.seats[nth]!;
    busyMs += now - seat.busySince + wrapUpMs;
    seat.wrapUntil = now + wrapUpMs;
  }

  due.put(0, { kind: 'arrival' });
  let told = 0;
  let events = 0;
  for (let event = due.take(); event && settled < calls && events < MOST_EVENTS; event = due.take()) {
    events += 1;
    now = event.at;
    const { what } = event;
    if ('call' in what && (what.call.isOver || (what.turn !== -1 && what.turn !== what.call.turn))) continue;
    switch (what.kind) {
      case 'arrival':
        arrive();
        break;
      case 'round':
        beginRound(what.call);
        break;
      case 'step-ends':
        missed(what.call);
        nextStep(what.call);
        break;
      case 'picks-up':
        pickUp(what.call, what.seat);
        break;
      case 'gives-up':
        settle(what.call, 'gave-up');
        break;
      case 'queue-ends':
        missed(what.call);
        settle(what.call, 'sent-on');
        break;
      case 'talk-ends':
        hangUp(what.seat);
        break;
      case 'goes-on':
        seats[what.seat]!.isPaused = false;
        seats[what.seat]!.misses = 0;
        seats[what.seat]!.idleSince = now;
    }
    const share = settled / calls;
    if (share - told >= 0.02) {
      told = share;
      if (!onProgress(share)) return null;
    }
  }
  const allMs = Math.max(1, now) * Math.max(1, seats.length);
  return {
    calls: answered.length,
    answered: measured(answered),
    within: measured(within),
    waitS: measured(waitS),
    abandoned: measured(abandoned),
    sentOn: measured(sentOn),
    occupancy: Math.min(1, busyMs / allMs),
    paused: Math.min(1, pausedMs / allMs),
    missesPerCall: misses / calls,
  };
}
