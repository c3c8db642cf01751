import { isRegisteredAs } from './registered';
import type { SettingRef, Arrival, Ms, Person, RingTarget } from '../../estate';
import type { EstateIndex } from './compile';
import type {
  Call,
  CallEvent,
  CallEventKind,
  EndpointBehaviour,
  Leg,
  Outcome,
  PathStep,
  Press,
  SeatInCall,
} from './types';

/** Ends a call from inside its stages; caught only by `runCall`. */
export type Stop = { readonly stop: Outcome };

/** What stands behind a leg of the trace: the target as it is set, and where. Times in ms since the call arrived. */
export interface LegDetail {
  readonly target: RingTarget;
  readonly setting: SettingRef;
  /** The how-manieth ring stage of the call this is, from 0. */
  readonly stage: number;
  /** When that stage ends by itself, unless a leg waits for its confirmation. */
  readonly stageEndMs: Ms;
  readonly inQueue: boolean;
  /** When it would alert, whether or not the call lasts so long; null: never. */
  wouldAlertMs: Ms | null;
  /** When the carrier's voicemail would take it, if nothing else came before; null: never. */
  wouldLoseMs: Ms | null;
  /** The answer that had to be confirmed; null: none. */
  confirmFromMs: Ms | null;
}

/** A part of the call in which one thing happens. */
export interface Band {
  readonly kind: 'ring' | 'offer' | 'code' | 'name' | 'menu' | 'queue';
  readonly fromMs: Ms;
  readonly toMs: Ms;
  readonly text: string;
  readonly setting: SettingRef;
  /** Of a menu: which. */
  readonly menu?: string;
}

/** What a call looked at to find its way: whatever is not named here made no difference to it. */
export interface Asked {
  /** What was read of the call and its world, by name, each with how many ring stages were over when it was first. */
  readonly things: Map<string, ReadAt>;
  /** The moments of the call, in ms, at which each schedule was looked at. */
  readonly schedules: Map<string, Set<Ms>>;
}

/**
 * Something of a call and its world that a run can read, beside what each phone does when it is dialled. What is not
 * among these cannot be read: the call itself is out of reach, and each of the functions below notes what it gives.
 */
export type Reading =
  | { readonly of: 'caller' }
  | { readonly of: 'arrival' }
  | { readonly of: 'offer' }
  | { readonly of: 'code' }
  | { readonly of: 'menu'; readonly id: string }
  /** How many calls a person has already. */
  | { readonly of: 'engaged'; readonly id: string }
  /** Whether an endpoint is registered, asked by another. */
  | { readonly of: 'registered'; readonly id: string }
  /** Whose turn it is in a group that goes round, and who of a group has been idle for longest. */
  | { readonly of: 'turn'; readonly id: string }
  | { readonly of: 'idle'; readonly id: string }
  /** Who is signed on to a seat, where, and how it stands. */
  | { readonly of: 'seat'; readonly id: string }
  /** How many channels of a trunk other calls hold. */
  | { readonly of: 'channels'; readonly id: string };
export interface ReadAt {
  readonly reading: Reading;
  readonly stage: number;
}
export const readingName = (reading: Reading): string =>
  'id' in reading ? `${reading.of}/${reading.id}` : reading.of;

function noted(run: Run, reading: Reading): void {
  const name = readingName(reading);
  if (!run.asked.things.has(name)) run.asked.things.set(name, { reading, stage: run.stages });
}

/** Out of reach of all other modules: what a run knows of its call it gets by the functions that note it. */
const CALL = Symbol('the call');
/** A call in which nothing has been read yet, for `Run`. */
export const unread = (call: Call): Pick<Run, typeof CALL | 'cameBy'> => ({ [CALL]: call, cameBy: null });

export function callerOf(run: Run): string | null {
  noted(run, { of: 'caller' });
  return run[CALL].from;
}
/** How the call came to whoever has it now; once it was passed on here, that is known without looking. */
export function arrivalOf(run: Run): Arrival {
  if (run.cameBy !== null) return run.cameBy;
  noted(run, { of: 'arrival' });
  return run[CALL].arrival ?? 'direct';
}
/** The press made in an offer (`offer`) or a menu, among these keys. */
export function pressOf(run: Run, id: string, keys: readonly string[]): Press | null {
  noted(run, id === 'offer' ? { of: 'offer' } : { of: 'menu', id });
  if (run.seen) return run.seen.press(id, run.now, keys);
  const presses = run[CALL].world?.presses;
  return (presses && Object.hasOwn(presses, id) ? presses[id] : undefined) ?? null;
}
export function codeOf(run: Run, length: number): { readonly digits: string; readonly afterMs: Ms } | null {
  noted(run, { of: 'code' });
  return (run.seen ? run.seen.code(run.now, length) : run[CALL].world?.code) ?? null;
}
/** How many calls a person has as this one asks for them. */
export function activeCallsOf(run: Run, person: string): number {
  noted(run, { of: 'engaged', id: person });
  return run.seen ? run.seen.activeCalls(person, run.now) : (run[CALL].world?.activeCalls?.[person] ?? 0);
}
export function isRegisteredNow(run: Run, endpoint: string): boolean {
  noted(run, { of: 'registered', id: endpoint });
  if (run.seen) return run.seen.isRegistered(endpoint, run.now);
  return isRegisteredAs(behaviourOf(run, endpoint).state, run.index.endpoints.get(endpoint)?.times.wakes);
}
/** The place in a group of the member who had its last call; undefined: nobody had one yet. */
export function lastTurnOf(run: Run, group: string): number | undefined {
  noted(run, { of: 'turn', id: group });
  return run[CALL].world?.groupLast?.[group];
}
/** How long each member of a group has been idle, in ms. */
export function idleIn(run: Run, group: string): (member: string) => Ms {
  noted(run, { of: 'idle', id: group });
  const idle = run[CALL].world?.idleMs;
  return (member) => idle?.[member] ?? 0;
}
const SIGNED_OFF: SeatInCall = {};
/** Who is signed on to a seat, and how it stands: the same throughout a call. */
export function seatOf(run: Run, seat: string): SeatInCall {
  noted(run, { of: 'seat', id: seat });
  const seats = run[CALL].world?.seats;
  return (seats && Object.hasOwn(seats, seat) ? seats[seat] : undefined) ?? SIGNED_OFF;
}
export function channelsHeld(run: Run, trunk: string): number {
  noted(run, { of: 'channels', id: trunk });
  return run.seen ? run.seen.channelsInUse(trunk, run.now) : (run[CALL].world?.trunkUse?.[trunk] ?? 0);
}

/** Notes that a schedule was looked at. */
export function askSchedule(asked: Asked, id: string, atMs: Ms): void {
  const moments = asked.schedules.get(id);
  if (moments) moments.add(atMs);
  else asked.schedules.set(id, new Set([atMs]));
}

/**
 * What a call that is really placed has shown so far. Where it is given, the run asks it instead of the call's world,
 * leg by leg and moment by moment; what has not happened yet is answered as if it never would. Times are ms since the
 * call arrived.
 */
export interface Seen {
  /** @param nth how many legs were dialled before this one */
  readonly leg: (nth: number, endpoint: string, dialledMs: Ms) => EndpointBehaviour;
  readonly isRegistered: (endpoint: string, atMs: Ms) => boolean;
  /** The first of these keys pressed since a moment. @param id a menu's id, or `offer` */
  readonly press: (id: string, fromMs: Ms, keys: readonly string[]) => Press | null;
  /** The first so many digits entered since a moment, once all are. */
  readonly code: (fromMs: Ms, length: number) => { readonly digits: string; readonly afterMs: Ms } | null;
  readonly channelsInUse: (trunk: string, atMs: Ms) => number;
  readonly activeCalls: (person: string, atMs: Ms) => number;
}

/** What one running call knows. Mutable, and never seen outside this folder. */
export interface Run {
  /** Whether its steps are put into words. */
  readonly told: boolean;
  readonly index: EstateIndex;
  readonly [CALL]: Call;
  /** How the call was passed on here; null: it was not yet. */
  cameBy: Arrival | null;
  readonly startEpochMs: number;
  readonly patienceMs: Ms;
  now: Ms;
  /** The moment at which the queue that the call is in ends; Infinity outside a queue. */
  queueEndMs: Ms;
  nameRecorded: boolean;
  hops: number;
  readonly askedPeople: Set<string>;
  readonly visitedGroups: Set<string>;
  readonly visitedMenus: Set<string>;
  readonly legs: Leg[];
  /** One for each leg, in the same order. */
  readonly details: LegDetail[];
  readonly bands: Band[];
  readonly path: PathStep[];
  readonly events: CallEvent[];
  readonly asked: Asked;
  /** What a phone of the public network does that the world says nothing about. */
  readonly unlisted: EndpointBehaviour;
  /** How many ring stages have begun. */
  stages: number;
  stageEndMs: Ms;
  trunkMs: Ms;
  readonly trunkUse: Map<string, number>;
  readonly seen: Seen | null;
}

/** Who pays for a leg and is named as its reason: the person, group or menu whose setting dials it. */
export interface Payer {
  readonly name: string;
  readonly permission: string;
}

export const payerOf = (person: Person): Payer => ({ name: person.name, permission: person.permission });

export const AS_THE_ESTATE_HAS_IT: EndpointBehaviour = {};

function behaviourOf(run: Run, endpoint: string): EndpointBehaviour {
  const endpoints = run[CALL].world?.endpoints;
  return (
    (endpoints && Object.hasOwn(endpoints, endpoint) && endpoints[endpoint]) ||
    (run.index.endpoints.get(endpoint)?.number === null ? AS_THE_ESTATE_HAS_IT : run.unlisted)
  );
}

/** How a leg of this call behaves. @param nth its place among the legs */
export const legBehaviour = (run: Run, endpoint: string, nth: number, dialledMs: Ms): EndpointBehaviour =>
  run.seen ? run.seen.leg(nth, endpoint, dialledMs) : behaviourOf(run, endpoint);

export const epochNow = (run: Run): number => run.startEpochMs + run.now;

const NOTHING = {};

/** Notes a step of the call for the people who read its trace. */
export function note(
  run: Run,
  kind: CallEventKind,
  text: () => string,
  about: { endpoint?: string; person?: string; setting?: SettingRef; why?: string } = NOTHING,
): void {
  if (run.told) run.events.push({ atMs: run.now, kind, text: text(), ...about });
}

/** Waits until a moment of the call; stops the call if the caller's patience ends by then. */
export function waitUntil(run: Run, untilMs: Ms): Stop | null {
  if (run.patienceMs <= untilMs) {
    run.now = run.patienceMs;
    return { stop: { kind: 'abandoned', atMs: run.patienceMs } };
  }
  run.now = untilMs;
  return null;
}

/** Notes a part of the call that began at `fromMs` and ends now. */
export function band(
  run: Run,
  kind: Band['kind'],
  fromMs: Ms,
  text: string,
  setting: SettingRef,
  menu?: string,
): void {
  run.bands.push({ kind, fromMs, toMs: run.now, text, setting, ...(menu === undefined ? {} : { menu }) });
}

/** Seconds for a sentence: `2.3 s`, `25 s`. */
export const seconds = (ms: Ms): string => `${ms / 1000} s`;
