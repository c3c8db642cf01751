import type { Ending, Person, RingTarget, SimpleEnding, Treatment } from '../estate';

/** Every ending that a treatment can come to. */
export const endingsOf = (treatment: Treatment): readonly Ending[] => [
  treatment.ending,
  ...(treatment.busy ? [treatment.busy] : []),
  ...treatment.stages.flatMap((stage): Ending[] =>
    'offer' in stage
      ? stage.offer.choices.flatMap((choice) => (choice.then === 'next' ? [] : [choice.then]))
      : 'code' in stage
        ? [stage.code.wrong]
        : [],
  ),
];

/** The rules that the person's status of now can open. */
export const openRules = ({ plan, status }: Person) =>
  plan.rules.filter((rule) => !rule.when.status || rule.when.status.includes(status));
export const openTreatments = (person: Person): readonly Treatment[] => [
  ...openRules(person),
  person.plan.otherwise,
];

/** Where a person's lines send calls on without their plan being asked, or after a while. */
export const forwardsOf = ({ lines }: Person): readonly SimpleEnding[] =>
  lines.flatMap(({ forwardAll, forwardAfter }) =>
    [forwardAll, forwardAfter].filter((ending) => ending !== null && ending !== undefined),
  );

/** What a treatment rings first: all that a group rings of it. */
export function firstRing({ stages }: Treatment): readonly RingTarget[] {
  const first = stages.find((stage) => 'ring' in stage);
  return first && 'ring' in first ? first.ring : [];
}
