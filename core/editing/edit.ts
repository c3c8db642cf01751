import {
  forwardAt,
  type Endpoint,
  type Line,
  type Mailbox,
  type Ms,
  type Person,
  type Plan,
  type RingStage,
  type RingTarget,
  type SimpleEnding,
  type Stage,
  type Treatment,
} from '../estate';

/** Where a treatment stands in a plan: a rule's id, or the plan's last treatment. */
export type TreatmentAt = string | 'otherwise';

export interface TargetAt {
  readonly treatment: TreatmentAt;
  readonly stage: number;
  readonly target: number;
}

/** What an edit takes away is given as undefined or null. */
export type TargetPatch = { [K in Exclude<keyof RingTarget, 'endpoint'>]?: RingTarget[K] | undefined };

/** The same object without the fields that are undefined, so that what is left out stays left out. */
const tidy = <T extends object>(object: T): T =>
  Object.fromEntries(Object.entries(object).filter(([, value]) => value !== undefined)) as T;

const replaceAt = <T>(items: readonly T[], at: number, change: (item: T) => T): T[] =>
  items.map((item, i) => (i === at ? change(item) : item));

/** The treatment of a plan at a place; the last one if there is no such rule. */
export const treatmentAt = (plan: Plan, at: TreatmentAt): Treatment =>
  plan.rules.find((rule) => rule.id === at) ?? plan.otherwise;

/** A plan with one of its treatments changed. */
export function changeTreatment(
  plan: Plan,
  at: TreatmentAt,
  change: (treatment: Treatment) => Treatment,
): Plan {
  return at !== 'otherwise' && plan.rules.some((rule) => rule.id === at)
    ? {
        ...plan,
        rules: plan.rules.map((rule) => {
          if (rule.id !== at) return rule;
          const { id, name, when, ...treatment } = rule;
          return { id, name, when, ...change(treatment) };
        }),
      }
    : { ...plan, otherwise: change(plan.otherwise) };
}

const changeStage = (plan: Plan, at: TreatmentAt, stage: number, change: (stage: Stage) => Stage): Plan =>
  changeTreatment(plan, at, (treatment) => ({
    ...treatment,
    stages: replaceAt(treatment.stages, stage, change),
  }));

const inRing = (stage: Stage, change: (stage: RingStage) => RingStage): Stage =>
  'ring' in stage ? change(stage) : stage;

/** Changes how one target rings. */
export function editTarget(person: Person, at: TargetAt, patch: TargetPatch): Person {
  const plan = changeStage(person.plan, at.treatment, at.stage, (stage) =>
    inRing(stage, (ring) => ({
      ...ring,
      ring: replaceAt(ring.ring, at.target, (target) => tidy({ ...target, ...patch })),
    })),
  );
  return { ...person, plan };
}

/** Changes how long a stage rings, in ms. */
export const editStageTime = (person: Person, treatment: TreatmentAt, stage: number, forMs: Ms): Person => ({
  ...person,
  plan: changeStage(person.plan, treatment, stage, (each) => inRing(each, (ring) => ({ ...ring, forMs }))),
});

/** Changes an endpoint of the person. */
export const editEndpoint = (person: Person, id: string, patch: Partial<Endpoint>): Person => ({
  ...person,
  endpoints: person.endpoints.map((endpoint) =>
    endpoint.id === id ? tidy({ ...endpoint, ...patch }) : endpoint,
  ),
});

/** Changes a person's mailbox; what is left as it is without any setting goes. */
export function setMailbox(person: Person, patch: Partial<Mailbox>): Person {
  const { mailbox, ...rest } = person;
  const next = tidy({ ...mailbox, ...patch });
  const kept = next.copyTo?.length === 0 ? tidy({ ...next, copyTo: undefined }) : next;
  return Object.keys(kept).length === 0 ? rest : { ...rest, mailbox: kept };
}

/** Changes every target of the person's own plan. @param change is told how long the target's step rings, too */
export function changeTargets(person: Person, change: (target: RingTarget, forMs: Ms) => RingTarget): Person {
  const inTreatment = <T extends Treatment>(treatment: T): T => ({
    ...treatment,
    stages: treatment.stages.map((stage) =>
      inRing(stage, (ring) => ({ ...ring, ring: ring.ring.map((target) => change(target, ring.forMs)) })),
    ),
  });
  const { rules, otherwise } = person.plan;
  return { ...person, plan: { rules: rules.map(inTreatment), otherwise: inTreatment(otherwise) } };
}

/**
 * Switches an endpoint on or off wherever the person's own plan rings it. Switched on again it rings exactly where it
 * rang before: where it had been off by itself it stays off, unless it was off everywhere.
 */
export function switchEndpoint(person: Person, id: string, enabled: boolean): Person {
  const { rules, otherwise } = person.plan;
  const targets = [...rules, otherwise]
    .flatMap(({ stages }) => stages.flatMap((stage) => ('ring' in stage ? stage.ring : [])))
    .filter(({ endpoint }) => endpoint === id);
  const remembers = targets.some(({ switchedOff }) => switchedOff === true);
  const rings = targets.some((target) => target.enabled !== false);
  return changeTargets(person, (target) => {
    if (target.endpoint !== id) return target;
    if (!enabled) return target.enabled === false ? target : { ...target, enabled: false, switchedOff: true };
    if (target.switchedOff !== true && (remembers || rings)) return target;
    return tidy({ ...target, enabled: undefined, switchedOff: undefined });
  });
}

/** A target for a mobile or landline with a guard and a give-up that suit the defaults of a carrier. */
export const carefulTarget = (endpoint: string): RingTarget => ({
  endpoint,
  acceptAfterMs: 2300,
  giveUpAfterMs: 22_000,
});

/** Adds a target to the first ring stage of a treatment; a stage of 25 s is made if there is none. */
export function ringWithFirstStage(person: Person, target: RingTarget, at: TreatmentAt): Person {
  const plan = changeTreatment(person.plan, at, (treatment) => {
    const first = treatment.stages.findIndex((stage) => 'ring' in stage);
    if (first < 0) return { ...treatment, stages: [...treatment.stages, { ring: [target], forMs: 25_000 }] };
    return {
      ...treatment,
      stages: replaceAt(treatment.stages, first, (stage) =>
        inRing(stage, (ring) => ({ ...ring, ring: [...ring.ring, target] })),
      ),
    };
  });
  return { ...person, plan };
}

/**
 * All calls of a person to one place, until a moment: what was set before comes back then by itself.
 * @param untilIso ISO 8601 with offset @param nowMs ms since 1970
 */
export const coverLines = (
  person: Person,
  ending: SimpleEnding,
  untilIso: string | null,
  nowMs: number,
): Person => ({
  ...person,
  lines: person.lines.map((line) => ({
    ...withoutForward(line),
    forwardAll: ending,
    ...(untilIso === null
      ? {}
      : {
          forwardUntil: untilIso,
          forwardAfter: coverOf(line, nowMs) ? (line.forwardAfter ?? null) : forwardAt(line, nowMs),
        }),
  })),
});

/** Ends a cover now: what would come back by itself is put back. Where there is none, always-forward ends. */
export function endCover(person: Person, nowMs: number): Person {
  const hasEnd = person.lines.some((line) => line.forwardUntil !== undefined);
  return {
    ...person,
    lines: person.lines.map((line) => {
      if (line.forwardUntil === undefined) return line.forwardAll && !hasEnd ? withoutForward(line) : line;
      const back = coverOf(line, nowMs) ? (line.forwardAfter ?? null) : forwardAt(line, nowMs);
      return { ...withoutForward(line), ...(back ? { forwardAll: back } : {}) };
    }),
  };
}

/** Forwards all lines of a person always, or (null) not any more; a cover that is on ends with it. */
export const setForward = (person: Person, ending: SimpleEnding | null): Person => ({
  ...person,
  lines: person.lines.map((line) => ({
    ...withoutForward(line),
    ...(ending ? { forwardAll: ending } : {}),
  })),
});

const withoutForward = ({ id, extension, numbers }: Line): Line => ({ id, extension, numbers });

/** The cover that is on for a line at a moment, with its end; null: none. */
export function coverOf(line: Line, nowMs: number): { ending: SimpleEnding; until: string } | null {
  if (!line.forwardAll || line.forwardUntil === undefined || Date.parse(line.forwardUntil) <= nowMs)
    return null;
  return { ending: line.forwardAll, until: line.forwardUntil };
}
