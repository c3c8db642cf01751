import type { Ms, RingTarget } from '../../estate';
import type { EndpointBehaviour, KnownEndpoint } from '../../calls/engine';

/** All that tells one thing that a phone can do from another, for one leg of a call. */
export interface LegPlace {
  readonly known: KnownEndpoint;
  readonly target: RingTarget;
  /** From dialling to the end of the stage. */
  readonly ringMs: Ms;
  readonly confirmWithinMs: Ms;
}

/** Where else in the same call the phone can ring. */
export interface OtherPlace {
  readonly target: RingTarget;
  readonly ringMs: Ms;
}

export interface LegScope {
  /** How far a carrier's times may lie from the estate's, as a share. */
  readonly spread: number;
  /** Times after alerting that a promise names. */
  readonly critical: readonly Ms[];
}

const spreadOf = (ms: Ms, spread: number): readonly Ms[] =>
  spread === 0 ? [ms] : [Math.round(ms * (1 - spread)), Math.round(ms * (1 + spread))];
const distinct = (values: readonly Ms[], least: Ms, most: Ms): readonly Ms[] => [
  ...new Set(values.filter((value) => value >= least && value <= most)),
];

/** Only what is not the estate's own, so that a call that shows something is as short as can be. */
const unless = <K extends keyof EndpointBehaviour>(
  key: K,
  value: EndpointBehaviour[K],
  own: EndpointBehaviour[K],
) => (value === own ? {} : { [key]: value });

/** What a person does who has answered where the call must be accepted. */
function confirming(
  { target, confirmWithinMs }: LegPlace,
  others: readonly OtherPlace[],
): readonly EndpointBehaviour[] {
  if ([target, ...others.map((each) => each.target)].every((each) => (each.confirm ?? 'none') === 'none'))
    return [{}];
  return [
    { pressAfterMs: 0 },
    { pressAfterMs: confirmWithinMs },
    { pressAfterMs: null },
    { pressAfterMs: null, refuseAfterMs: 0 },
  ];
}

/**
 * What the phone of one leg can do, as far as it can make a difference: each state, and of times those at which
 * something changes its order with something else - the guard, the give-up, the end of the stage, the carrier's
 * pick-up, the times that a promise names, and the ends of each range.
 * @param others where else the same phone can ring in the call: its times then count too
 */
export function legBehavioursOf(
  place: LegPlace,
  others: readonly OtherPlace[],
  { spread, critical }: LegScope,
): readonly EndpointBehaviour[] {
  const { known, target, ringMs } = place;
  const { times, number, endpoint } = known;
  const legBehaviours: EndpointBehaviour[] = [];
  const isNumber = number !== null;
  const setups = isNumber ? spreadOf(times.setupMs, spread) : [times.setupMs];
  const pickUps = isNumber && times.mailboxAfterMs !== null ? spreadOf(times.mailboxAfterMs, spread) : [null];
  const hasVoicemail = isNumber && times.mailboxAfterMs !== null;
  const silent = hasVoicemail ? spreadOf(times.offAnswerMs, spread) : [times.offAnswerMs];

  const wakings =
    endpoint.kind === 'mobile-app'
      ? ([['ready', 0], ...(times.wakes ? ([['asleep', times.wakeMs]] as const) : [])] as const)
      : ([['ready', 0]] as const);
  for (const setupMs of setups)
    for (const pickUp of pickUps)
      for (const [state, wakeMs] of wakings) {
        const base: EndpointBehaviour = {
          ...unless('state', state, 'ready'),
          ...unless('setupMs', setupMs, times.setupMs),
          ...(isNumber ? unless('mailboxAfterMs', pickUp, times.mailboxAfterMs) : {}),
        };
        const alertMs = setupMs + wakeMs;
        const mostMs = pickUp ?? Infinity;
        const ends = [{ target, ringMs }, ...others].map((each) =>
          Math.min(each.ringMs - alertMs, (each.target.giveUpAfterMs ?? Infinity) - alertMs, mostMs),
        );
        const lastMs = Math.max(...ends);
        legBehaviours.push(base);
        if (lastMs < 0) continue;
        const guards = [{ target, ringMs }, ...others].flatMap((each) => {
          const guard = (each.target.acceptAfterMs ?? 0) - alertMs;
          return [guard - 1, guard];
        });
        for (const answerAfterMs of distinct([0, ...guards, ...critical, ...ends], 0, lastMs))
          for (const key of confirming(place, others)) legBehaviours.push({ ...base, answerAfterMs, ...key });
        const rejects = ends.map((end) => (pickUp !== null && end === pickUp ? end - 1 : end));
        for (const rejectAfterMs of distinct([0, ...rejects], 0, lastMs))
          legBehaviours.push({ ...base, rejectAfterMs });
      }
  for (const setupMs of hasVoicemail ? [times.setupMs] : setups)
    for (const offAnswerMs of silent) {
      const base = {
        ...unless('setupMs', setupMs, times.setupMs),
        ...unless('offAnswerMs', offAnswerMs, times.offAnswerMs),
      };
      if (isNumber) legBehaviours.push({ state: 'off', ...base });
      legBehaviours.push({ state: 'busy', ...base });
    }
  for (const setupMs of setups) {
    const base = unless('setupMs', setupMs, times.setupMs);
    for (const pickUp of pickUps)
      legBehaviours.push({
        state: 'do-not-disturb',
        ...base,
        ...(isNumber ? unless('mailboxAfterMs', pickUp, times.mailboxAfterMs) : {}),
      });
    for (const key of confirming(place, others))
      legBehaviours.push({ state: 'auto-answer', ...base, ...key });
  }
  // Of a number: the mobile network does not know the phone, and the call comes back at once.
  legBehaviours.push({ state: 'unregistered' });
  return legBehaviours;
}
