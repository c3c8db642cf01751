import type { Ending, Person, Treatment } from '../estate';

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
