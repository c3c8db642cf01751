import {
  endingsIn,
  endingsInLine,
  type Ending,
  type Person,
  type RingTarget,
  type Treatment,
} from '../../estate';

/** Every ending that a treatment can come to. */
export const treatmentEndings = (treatment: Treatment): readonly Ending[] =>
  endingsIn(treatment).map(({ ending }) => ending);

/** The rules that the person's status of now can open. */
export const openRules = ({ plan, status }: Person) =>
  plan.rules.filter((rule) => !rule.when.status || rule.when.status.includes(status));
export const openTreatments = (person: Person): readonly Treatment[] => [
  ...openRules(person),
  person.plan.otherwise,
];

/** Where a person's lines send calls on without their plan being asked, or after a while. */
export const forwardsOf = ({ lines }: Person): readonly Ending[] =>
  lines.flatMap(endingsInLine).map(({ ending }) => ending);

/** What a treatment rings first: all that a group rings of it. */
export function firstRing({ stages }: Treatment): readonly RingTarget[] {
  const first = stages.find((stage) => 'ring' in stage);
  return first && 'ring' in first ? first.ring : [];
}
