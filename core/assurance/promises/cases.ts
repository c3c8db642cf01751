import type { EndpointId, Ms } from '../../estate';
import {
  isGone,
  runInDetail,
  type Call,
  type DetailedRun,
  type EndpointBehaviour,
  type EstateIndex,
  endpointAt,
} from '../../calls/engine';
import { isoIn } from '../../calls/time';
import {
  eachInTurn,
  later,
  pick,
  product,
  sooner,
  type ChosenBehaviour,
  type LegBehaviour,
  type OpenLeg,
} from './in-turn';
import { legBehavioursOf, type LegScope, type OtherPlace } from './leg-behaviours';
import { alternatives, type Choices, type BehaviourByEndpoint, type Given } from './circumstances';
import { memoryOf } from './memory';
import { idleAndSeats } from './seats';
import { choiceKeys } from './readings';
import { dominates, standingAt, type StageMet } from './standing';

/** One case that was gone through: the call, and what it does. */
export type Visit = (call: Call, run: DetailedRun) => void;

/** A way in which a stage passes without an answer. */
interface Passing {
  readonly behaviours: BehaviourByEndpoint;
  readonly endMs: Ms;
  readonly alerts: boolean;
  /** The other phones of the stage stay quiet as long as they can. */
  readonly isLong: boolean;
}

export interface CaseScope extends LegScope {
  /** Goes through the same again and again, for checking that what is left out shows nothing new. */
  readonly everything: boolean;
  readonly choices: Choices;
  /** Whether a schedule is inside at an instant, ms since 1970. */
  readonly inside: (schedule: string, epochMs: number) => boolean;
  /**
   * How all schedules stand from an instant on; null: one of them turns while a call that began at another instant can
   * still look at it. Both in ms since 1970.
   */
  readonly standFrom: (epochMs: number, begunMs: number) => string | null;
  /** Schedules that a promise compares with the moments at which phones ring. */
  readonly watched: readonly string[];
  /** Also goes through the calls in which one phone is gone and nobody does anything. */
  readonly losing: boolean;
  /** Endpoints that a call can meet more than once, with all the places at which it can. */
  readonly shared: ReadonlyMap<EndpointId, readonly OtherPlace[]>;
}

export interface WentThrough {
  /** How many calls were run for it: those of the cases, and those that showed what there is to choose. */
  readonly runs: number;
  /** The moments of the call, in ms, at which each schedule was looked at in any case. */
  readonly schedules: ReadonlyMap<string, ReadonlySet<Ms>>;
  readonly complete: boolean;
}

export interface CaseRunner {
  /**
   * Goes through all that can happen to a call at one moment, but for what was gone through at another moment and
   * would be the same.
   * @param epochMs the moment, ms since 1970
   * @param limit the most calls to run
   * @returns what was looked at, and whether all cases were gone through
   */
  readonly goThrough: (epochMs: number, limit: number, visit: Visit) => WentThrough;
}

/** In the place of a stage: a call that is at its end, and one that is only seen as it is. */
const LEAF = -1;
const ONCE = -2;
const LOSE = -3;
const QUIET: EndpointBehaviour = { mailboxAfterMs: null };

/**
 * Goes through everything that can happen in calls to one line, choice by choice, as the call comes upon them: what
 * the caller is and does, who is engaged, and stage by stage what the phones do.
 *
 * Legs of a stage do not touch each other but by who is first. So it is enough to let each leg in turn do each thing
 * it can do, with the others as quiet as they can be for as long as they can, and as short; and to let a stage pass
 * at its earliest, its latest, and its latest without any phone having rung. Only endpoints that a call can meet twice
 * are taken in all combinations.
 */
export function caseRunner(index: EstateIndex, to: string, scope: CaseScope): CaseRunner {
  const { confirmWithinMs } = index.settings;
  /** What legs can come to, by where they are set and how long they ring: the same wherever in a call they come. */
  const known = new Map<string, readonly LegBehaviour[]>();

  const memory = memoryOf(scope.everything, scope.inside);
  /** Stages that calls have come to while no schedule turned any more, with what lay behind them. */
  const met = new Map<string, StageMet[]>();
  const keyOf = choiceKeys();
  const inTurn = eachInTurn(scope.shared);

  function goThrough(epochMs: number, limit: number, visit: Visit): WentThrough {
    const at = isoIn(epochMs, index.estate.timeZone);
    /** No schedule turns while the call can still look at one. */
    const isSteady = !scope.everything && scope.standFrom(epochMs, epochMs) !== null;
    let runs = 0;
    let complete = true;

    const { note, once, within, schedules } = memory.at(epochMs, () => complete);

    const callOf = (
      { from, arrival, presses, code, activeCalls, groupLast, idleMs, seats }: Given,
      behaviours: BehaviourByEndpoint,
    ): Call => ({
      from,
      to,
      at,
      ...(arrival === 'direct' ? {} : { arrival }),
      world: {
        ...(Object.keys(presses).length ? { presses } : {}),
        ...(code ? { code } : {}),
        ...(Object.keys(activeCalls).length ? { activeCalls } : {}),
        ...(Object.keys(groupLast).length ? { groupLast } : {}),
        ...idleAndSeats(idleMs, seats),
        endpoints: behaviours,
      },
    });
    const run = (call: Call, unlisted?: EndpointBehaviour): DetailedRun => {
      runs += 1;
      if (runs >= limit) complete = false;
      const ran = runInDetail(index, call, false, unlisted);
      for (const [id, moments] of ran.asked.schedules) for (const moment of moments) note(id, moment);
      for (const id of scope.watched)
        for (const leg of ran.trace.legs) if (leg.alertMs !== null) note(id, leg.alertMs);
      return ran;
    };
    /**
     * Takes up the first thing that the call looked at by a stage and that has not been decided; false: there is none.
     */
    const branches = (
      given: Given,
      ran: DetailedRun,
      stage: number,
      then: (given: Given) => void,
    ): boolean => {
      for (const [name, readAt] of ran.asked.things) {
        if (readAt.stage > stage || given.decided.has(name)) continue;
        const { all, complete: isAll } = alternatives(readAt.reading, given, scope.choices);
        complete &&= isAll;
        for (const next of all) then(next);
        return true;
      }
      return false;
    };

    /** Visits one case as it is. */
    const see = (
      given: Given,
      behaviours: BehaviourByEndpoint,
      before?: { call: Call; ran: DetailedRun },
    ): void => {
      if (!complete) return;
      const call = before?.call ?? callOf(given, behaviours);
      visit(call, before?.ran ?? run(call));
    };
    /** Visits the cases of what is given and done, by all that the call still looks at. */
    const leaf = (given: Given, behaviours: BehaviourByEndpoint): void =>
      once(keyOf(given, behaviours, LEAF), () => leafAnew(given, behaviours));
    /** @param before how the call goes, where that is known already and what it looked at is noted */
    const leafAnew = (given: Given, behaviours: BehaviourByEndpoint, before?: DetailedRun): void => {
      if (!complete) return;
      const call = callOf(given, behaviours);
      const ran = before ?? run(call);
      if (branches(given, ran, Infinity, (next) => leaf(next, behaviours))) return;
      see(given, behaviours, { call, ran });
    };

    const legBehavioursFor = (
      given: Given,
      behaviours: BehaviourByEndpoint,
      endpoint: EndpointId,
      found: DetailedRun,
      i: number,
    ) => {
      const { target, setting, stageEndMs, inQueue, stage } = found.details[i]!;
      const dialMs = found.trace.legs[i]!.dialledMs;
      const ringMs = stageEndMs - dialMs;
      const key = `${setting} ${endpoint} ${ringMs}`;
      const before = inQueue ? undefined : known.get(key);
      if (before) return before;
      const place = { known: endpointAt(index, endpoint), target, ringMs, confirmWithinMs };
      let isLone = !inQueue;
      const legBehaviours = legBehavioursOf(place, scope.shared.get(endpoint) ?? [], scope).map(
        (does): LegBehaviour => {
          const alone = run(callOf(given, { ...behaviours, [endpoint]: does }), QUIET);
          const n = alone.details.findIndex(
            (each, k) => each.stage === stage && alone.trace.legs[k]!.endpoint === endpoint,
          );
          const came = alone.trace.legs[n];
          if (!came || came.end === 'no-channel') isLone = false;
          return {
            does,
            connects: came?.end === 'connected',
            endMs: (came?.endMs ?? dialMs) - dialMs,
            alerts: came !== undefined && came.alertMs !== null,
          };
        },
      );
      if (isLone) known.set(key, legBehaviours);
      return legBehaviours;
    };

    /** The legs of a stage whose phones have done nothing yet in this call, with what each can come to. */
    const openLegs = (
      given: Given,
      behaviours: BehaviourByEndpoint,
      found: DetailedRun,
      stage: number,
    ): OpenLeg[] =>
      found.details.flatMap((detail, i) => {
        const { endpoint, dialledMs } = found.trace.legs[i]!;
        if (detail.stage !== stage || Object.hasOwn(behaviours, endpoint)) return [];
        const registered = given.registered[endpoint];
        const legBehaviours = legBehavioursFor(given, behaviours, endpoint, found, i).filter(
          ({ does: { state } }) => registered === undefined || registered === !isGone(state),
        );
        return [{ endpoint, dialMs: dialledMs, legBehaviours, isShared: scope.shared.has(endpoint) }];
      });

    const explore = (given: Given, behaviours: BehaviourByEndpoint, stage: number): void => {
      if (complete) once(keyOf(given, behaviours, stage), () => exploreAnew(given, behaviours, stage));
    };
    const exploreAnew = (given: Given, behaviours: BehaviourByEndpoint, stage: number): void => {
      const ran = run(callOf(given, behaviours), QUIET);
      if (branches(given, ran, stage, (next) => explore(next, unregisteredIn(next, behaviours), stage)))
        return;
      if (!ran.details.some((detail) => detail.stage >= stage)) return leafAnew(given, behaviours, ran);
      const legs = openLegs(given, behaviours, ran, stage);
      if (legs.length === 0) {
        // On to the next stage with a phone that has done nothing yet; a queue can have many without.
        const next = nextOpen(ran, behaviours, stage);
        if (next !== null) return explore(given, behaviours, next);
        return leafAnew(given, behaviours, ran);
      }
      const here = standingAt(given, behaviours, ran, stage, scope.shared);
      const stand = scope.everything ? null : scope.standFrom(epochMs + here.atMs, epochMs);
      if (stand === null) return goOn(given, behaviours, stage, legs);
      const key = `${stand} ${here.key}`;
      const worse = met.get(key)?.find((each) => dominates(each, here));
      if (worse) {
        // The schedules are looked at as they were there, sooner or later.
        for (const look of worse.reads) {
          const { schedule, atMs } = memory.of(look);
          if (atMs >= worse.atMs) note(schedule, atMs - worse.atMs + here.atMs);
        }
        return see(given, behaviours);
      }
      const below = within(() => goOn(given, behaviours, stage, legs));
      if (complete) met.set(key, [...(met.get(key) ?? []), { ...here, reads: below }]);
    };
    /** Goes through a stage whose open legs are known, and all that comes of each way in which it passes. */
    const goOn = (
      given: Given,
      behaviours: BehaviourByEndpoint,
      stage: number,
      legs: readonly OpenLeg[],
    ): void => {
      const own = legs.filter((leg) => !leg.isShared);
      const shared = legs.filter((leg) => leg.isShared);
      for (const { together, isQuiet } of scope.everything ? product(shared) : inTurn(shared, behaviours)) {
        const passings: Passing[] = [];
        for (const better of own.length > 0 ? [later, sooner] : [later]) {
          const rest = own.map((leg): ChosenBehaviour => [leg, pick(leg, better)]);
          consider(given, behaviours, [...together, ...rest], passings, better === later);
          for (const leg of isQuiet ? own : [])
            for (const legBehaviour of leg.legBehaviours)
              consider(
                given,
                behaviours,
                [...together, ...rest.filter(([each]) => each !== leg), [leg, legBehaviour]],
                passings,
                better === later,
              );
        }
        // The rest of the call is gone through for the extremes; each other way is a case once.
        const kept = extremes(passings, isSteady);
        for (const passing of kept) explore(given, passing.behaviours, stage + 1);
        for (const passing of passings)
          if (passing.isLong && !kept.includes(passing))
            once(keyOf(given, passing.behaviours, ONCE), () => see(given, passing.behaviours));
      }
    };
    /** One way in which the open legs of a stage can go: a case of its own if one of them connects. */
    const consider = (
      given: Given,
      behaviours: BehaviourByEndpoint,
      chosen: readonly ChosenBehaviour[],
      passings: Passing[],
      isLong: boolean,
    ): void => {
      if (!complete) return;
      const done: Record<EndpointId, EndpointBehaviour> = { ...behaviours };
      let endMs = 0;
      let alerts = false;
      let passes = true;
      for (const [leg, legBehaviour] of chosen) {
        if (legBehaviour) done[leg.endpoint] = legBehaviour.does;
        if (!legBehaviour || legBehaviour.connects) passes = false;
        else endMs = Math.max(endMs, leg.dialMs + legBehaviour.endMs);
        alerts ||= legBehaviour?.alerts ?? true;
      }
      if (passes) passings.push({ behaviours: done, endMs, alerts, isLong });
      else leaf(given, done);
    };
    /**
     * Goes through the calls in which nobody does anything at a phone: in each way that the rest can be, with each
     * phone gone that the call then meets or asks for. A phone that it does not meet is as good as another.
     */
    const lose = (given: Given): void => {
      if (!complete) return;
      once(keyOf(given, {}, LOSE), () => {
        const ran = run(callOf(given, {}));
        if (branches(given, ran, Infinity, lose)) return;
        const rung = new Set(ran.trace.legs.map((leg) => leg.endpoint));
        for (const { reading } of ran.asked.things.values())
          if (reading.of === 'registered') rung.add(reading.id);
        const unmet = [...index.endpoints.keys()].find((id) => !rung.has(id));
        for (const id of unmet === undefined ? rung : [...rung, unmet])
          for (const state of endpointAt(index, id).number === null
            ? (['unregistered'] as const)
            : (['off', 'unregistered'] as const))
            leaf(given, { [id]: { state } });
      });
    };
    explore(scope.choices.first, {}, 0);
    if (scope.losing) lose(scope.choices.first);
    return { schedules: schedules(), runs, complete };
  }
  return { goThrough };
}

/** The first stage after this one with a phone that has done nothing yet; null: there is none. */
function nextOpen(
  { details, trace }: DetailedRun,
  behaviours: BehaviourByEndpoint,
  stage: number,
): number | null {
  const at = details.findIndex(
    (detail, i) => detail.stage > stage && !Object.hasOwn(behaviours, trace.legs[i]!.endpoint),
  );
  return at < 0 ? null : details[at]!.stage;
}

/** A phone that others ask for and find unregistered is unregistered throughout. */
function unregisteredIn(given: Given, behaviours: BehaviourByEndpoint): BehaviourByEndpoint {
  const gone = Object.entries(given.registered).filter(([id, is]) => !is && !Object.hasOwn(behaviours, id));
  return gone.length === 0
    ? behaviours
    : { ...behaviours, ...Object.fromEntries(gone.map(([id]) => [id, { state: 'unregistered' as const }])) };
}

/**
 * The latest, the latest of those in which no phone rang, and the earliest: where no schedule turns, what follows the
 * earliest is the same as what follows the latest, only sooner, and no promise is broken by that.
 */
function extremes(passings: readonly Passing[], isSteady: boolean): readonly Passing[] {
  const latest = (a: Passing, b: Passing) => (b.endMs > a.endMs ? b : a);
  const silent = passings.filter((passing) => !passing.alerts);
  return [
    ...new Set([
      ...(passings.length ? [passings.reduce(latest)] : []),
      ...(silent.length ? [silent.reduce(latest)] : []),
      ...(passings.length && !isSteady ? [passings.reduce((a, b) => (b.endMs < a.endMs ? b : a))] : []),
    ]),
  ];
}
