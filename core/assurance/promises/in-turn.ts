import type { EndpointId, Ms } from '../../estate';
import type { EndpointBehaviour } from '../../calls/engine';
import type { BehaviourByEndpoint } from './circumstances';

/** What one leg can come to by itself; times from dialling. */
export interface LegBehaviour {
  readonly does: EndpointBehaviour;
  readonly connects: boolean;
  readonly endMs: Ms;
  readonly alerts: boolean;
}
export interface OpenLeg {
  readonly endpoint: EndpointId;
  readonly dialMs: Ms;
  readonly legBehaviours: readonly LegBehaviour[];
  readonly isShared: boolean;
}
export type ChosenBehaviour = readonly [OpenLeg, LegBehaviour | null];
/** Fates for some legs of a stage, and whether all of them are quiet ones. */
export interface Together {
  readonly together: readonly ChosenBehaviour[];
  readonly isQuiet: boolean;
}

const weight = (does: EndpointBehaviour) => Object.keys(does).length;
export const later = (a: LegBehaviour, b: LegBehaviour): boolean =>
  a.endMs > b.endMs || (a.endMs === b.endMs && weight(a.does) < weight(b.does));
export const sooner = (a: LegBehaviour, b: LegBehaviour): boolean =>
  a.endMs < b.endMs || (a.endMs === b.endMs && Number(a.alerts) < Number(b.alerts));
/** The best legBehaviour of a leg in which it does not connect; null: it always does. */
export const pick = (
  { legBehaviours }: Pick<OpenLeg, 'legBehaviours'>,
  better: (a: LegBehaviour, b: LegBehaviour) => boolean,
): LegBehaviour | null =>
  legBehaviours.reduce<LegBehaviour | null>(
    (best, legBehaviour) =>
      legBehaviour.connects || (best !== null && !better(legBehaviour, best)) ? best : legBehaviour,
    null,
  );

/** Every way to take one legBehaviour of each leg. */
export const product = (legs: readonly OpenLeg[]): readonly Together[] =>
  legs
    .reduce<readonly (readonly ChosenBehaviour[])[]>(
      (all, leg) =>
        all.flatMap((before) =>
          leg.legBehaviours.map((legBehaviour): readonly ChosenBehaviour[] => [
            ...before,
            [leg, legBehaviour],
          ]),
        ),
      [[]],
    )
    .map((together) => ({ together, isQuiet: true }));

/** Nobody answers it and no voicemail takes it, wherever and for how long it rings. */
const neverConnects = ({ connects, does }: LegBehaviour): boolean =>
  !connects &&
  (does.answerAfterMs ?? null) === null &&
  does.state !== 'auto-answer' &&
  ((does.rejectAfterMs ?? null) !== null || does.mailboxAfterMs === null);

/**
 * The ways in which a phone is quiet: for as long as it can be, as short, as long without having rung, and as long
 * without a voicemail taking the call where it rings for longer.
 */
const QUIET_WAYS: readonly ((leg: OpenLeg) => LegBehaviour | null)[] = [
  (leg) => pick(leg, later),
  (leg) => pick(leg, sooner),
  ({ legBehaviours }) => pick({ legBehaviours: legBehaviours.filter(({ alerts }) => !alerts) }, later),
  ({ legBehaviours }) => pick({ legBehaviours: legBehaviours.filter(neverConnects) }, later),
];

/** The first so many of them differ only in how long the phone goes on. */
const ONLY_LENGTH = 2;

/**
 * The legBehaviours of phones that a call can ring more than once and that do the same each time: each in turn does everything
 * that it can, while all the others are quiet, all in the same way, throughout the call. As with the legs of one stage
 * they touch each other only by who is first, and what another does beside that is at its most in one of these ways.
 * @returns for the open legs of a stage, and what phones have done before it, the ways in which they go on
 */
export function eachInTurn(shared: { readonly has: (endpoint: EndpointId) => boolean }) {
  /** The ways, as bits, in which what a phone does is quiet. */
  const waysOf = new WeakMap<EndpointBehaviour, number>();
  const ALL = (1 << QUIET_WAYS.length) - 1;

  return (legs: readonly OpenLeg[], behaviours: BehaviourByEndpoint): readonly Together[] => {
    if (legs.length === 0) return [{ together: [], isQuiet: true }];
    let ways = ALL;
    let isTaken = false;
    for (const endpoint in behaviours) {
      if (!shared.has(endpoint)) continue;
      const quiet = waysOf.get(behaviours[endpoint]!);
      if (quiet === undefined) isTaken = true;
      else ways &= quiet;
    }
    const open = ways === 0 ? ALL : ways;
    const found = new Map<string, Together>();
    const keep = (together: readonly ChosenBehaviour[], isQuiet: boolean) => {
      const key = together
        .map(([leg, legBehaviour]) => (legBehaviour ? leg.legBehaviours.indexOf(legBehaviour) : -1))
        .join(' ');
      if (!found.has(key)) found.set(key, { together, isQuiet });
    };
    const quietly = QUIET_WAYS.map((way) =>
      legs.map((leg): ChosenBehaviour => [leg, way(leg) ?? pick(leg, later)]),
    );
    quietly.forEach((together, nth) => {
      for (const [, legBehaviour] of together)
        if (legBehaviour) waysOf.set(legBehaviour.does, (waysOf.get(legBehaviour.does) ?? 0) | (1 << nth));
      if (open & (1 << nth)) keep(together, !isTaken);
    });
    if (isTaken) return [...found.values()];
    quietly.forEach((rest, nth) => {
      if ((open & (1 << nth)) === 0) return;
      // A call that is taken here ends here: of the others only counts how long they go on.
      const alsoTaken = nth < ONLY_LENGTH || (open & ((1 << ONLY_LENGTH) - 1)) === 0;
      for (const leg of legs)
        for (const legBehaviour of alsoTaken
          ? leg.legBehaviours
          : leg.legBehaviours.filter(({ connects }) => !connects))
          keep(
            rest.map((each): ChosenBehaviour => (each[0] === leg ? [leg, legBehaviour] : each)),
            false,
          );
    });
    return [...found.values()];
  };
}
