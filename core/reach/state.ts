import type { Ms, Person, RingTarget } from '../estate';
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
} from './types';

/** Ends a call from inside its stages; caught only by `runCall`. */
export type Stop = { readonly stop: Outcome };

/** What stands behind a leg of the trace: the target as it is set, and where. Times in ms since the call arrived. */
export interface LegDetail {
  readonly target: RingTarget;
  readonly setting: string;
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
  readonly setting: string;
}

/** What a call looked at to find its way: whatever is not named here made no difference to it. */
export interface Asked {
  /**
   * `caller`, `arrival`, `offer`, `code`, `menu/ID`, `engaged/ID`, `registered/ID`, each with how many ring stages
   * were over when it was looked at first.
   */
  readonly things: Map<string, number>;
  /** The moments of the call, in ms, at which each schedule was looked at. */
  readonly schedules: Map<string, Set<Ms>>;
}

/** Notes that the call looked at something. */
export function ask(run: Run, thing: string): void {
  if (!run.asked.things.has(thing)) run.asked.things.set(thing, run.stages);
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
  readonly call: Call;
  readonly startEpochMs: number;
  readonly patienceMs: Ms;
  now: Ms;
  /** The moment at which the queue that the call is in ends; Infinity outside a queue. */
  queueEndMs: Ms;
  nameRecorded: boolean;
  arrival: NonNullable<Call['arrival']>;
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

export function behaviourOf(run: Run, endpoint: string): EndpointBehaviour {
  const endpoints = run.call.world?.endpoints;
  return (
    (endpoints && Object.hasOwn(endpoints, endpoint) && endpoints[endpoint]) ||
    (run.index.endpoints.get(endpoint)?.number === null ? AS_THE_ESTATE_HAS_IT : run.unlisted)
  );
}

/** How a leg of this call behaves. @param nth its place among the legs */
export const legBehaviour = (run: Run, endpoint: string, nth: number, dialledMs: Ms): EndpointBehaviour =>
  run.seen ? run.seen.leg(nth, endpoint, dialledMs) : behaviourOf(run, endpoint);

/** How many calls a person has as this one asks for them. */
export const activeCallsOf = (run: Run, person: string): number =>
  run.seen ? run.seen.activeCalls(person, run.now) : (run.call.world?.activeCalls?.[person] ?? 0);

export const epochNow = (run: Run): number => run.startEpochMs + run.now;

const NOTHING = {};

/** Notes a step of the call for the people who read its trace. */
export function note(
  run: Run,
  kind: CallEventKind,
  text: () => string,
  about: { endpoint?: string; person?: string; setting?: string } = NOTHING,
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
export function band(run: Run, kind: Band['kind'], fromMs: Ms, text: string, setting: string): void {
  run.bands.push({ kind, fromMs, toMs: run.now, text, setting });
}

/** Seconds for a sentence: `2.3 s`, `25 s`. */
export const seconds = (ms: Ms): string => `${ms / 1000} s`;
