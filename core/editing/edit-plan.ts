import { isSame } from './differences';
import { changeTreatment, treatmentAt, type TreatmentAt } from './edit';
import { moved } from './lists';
import {
  readSetting,
  type SettingRef,
  type Ending,
  type Person,
  type Plan,
  type RingTarget,
  type Rule,
  type Stage,
  type Treatment,
  type When,
} from '../estate';

/** Changes of a reach plan, each giving a new person. Places are counted from 0. */
const withPlan = (person: Person, plan: Plan): Person => ({ ...person, plan });

/** Moves a rule to another place: the first rule that fits decides. */
export const moveRule = (person: Person, from: number, to: number): Person =>
  withPlan(person, {
    ...person.plan,
    rules: moved(person.plan.rules, from, to),
  });

export const removeRule = (person: Person, id: string): Person =>
  withPlan(person, { ...person.plan, rules: person.plan.rules.filter((rule) => rule.id !== id) });

const freeId = (plan: Plan): string => {
  let n = plan.rules.length + 1;
  while (plan.rules.some((rule) => rule.id === `r-${n}`)) n += 1;
  return `r-${n}`;
};

/**
 * Adds a rule before all others, with what the plan's last treatment does.
 * @returns the person and the new rule's id
 */
export function addRule(person: Person, name: string, when: When = {}): { person: Person; id: string } {
  const id = freeId(person.plan);
  const rule: Rule = { id, name, when, ...person.plan.otherwise };
  return { id, person: withPlan(person, { ...person.plan, rules: [rule, ...person.plan.rules] }) };
}

/** What a rule is called until somebody names it. */
export const NEW_RULE = 'New rule';

/**
 * What a rule that was begun and has no condition yet would do if it stayed: `nothing` where there is no rule below it
 * and it treats calls as the default rule does; `all`: it takes every call before what is below it. Null: it is a rule
 * like any other.
 */
export function begunRule(person: Person, at: TreatmentAt): 'nothing' | 'all' | null {
  const place = person.plan.rules.findIndex(({ id }) => id === at);
  const rule = person.plan.rules[place];
  if (!rule || rule.name !== NEW_RULE || Object.keys(rule.when).length > 0) return null;
  const { id: _id, name: _name, when: _when, ...does } = rule;
  const isLast = place === person.plan.rules.length - 1;
  return isLast && isSame(does, person.plan.otherwise) ? 'nothing' : 'all';
}

export const editRule = (person: Person, id: string, patch: Partial<Pick<Rule, 'name' | 'when'>>): Person =>
  withPlan(person, {
    ...person.plan,
    rules: person.plan.rules.map((rule) => (rule.id === id ? { ...rule, ...patch } : rule)),
  });

/** A condition with one of its parts set, or (undefined) taken out. */
export function editWhen<K extends keyof When>(when: When, part: K, value: When[K] | undefined): When {
  const { [part]: _before, ...rest } = when;
  return value === undefined ? rest : { ...rest, [part]: value };
}

const withStages = (
  person: Person,
  at: TreatmentAt,
  change: (stages: readonly Stage[]) => readonly Stage[],
): Person =>
  withPlan(
    person,
    changeTreatment(person.plan, at, (treatment) => ({ ...treatment, stages: change(treatment.stages) })),
  );

export const addStage = (person: Person, at: TreatmentAt, stage: Stage): Person =>
  withStages(person, at, (stages) => [...stages, stage]);
export const removeStage = (person: Person, at: TreatmentAt, stage: number): Person =>
  withStages(person, at, (stages) => stages.filter((_, i) => i !== stage));
export const moveStage = (person: Person, at: TreatmentAt, from: number, to: number): Person =>
  withStages(person, at, (stages) => moved(stages, from, to));
export const putStage = (person: Person, at: TreatmentAt, stage: number, put: Stage): Person =>
  withStages(person, at, (stages) => stages.map((each, i) => (i === stage ? put : each)));

export const addTarget = (person: Person, at: TreatmentAt, stage: number, target: RingTarget): Person =>
  withStages(person, at, (stages) =>
    stages.map((each, i) =>
      i === stage && 'ring' in each ? { ...each, ring: [...each.ring, target] } : each,
    ),
  );
export const removeTarget = (person: Person, at: TreatmentAt, stage: number, target: number): Person =>
  withStages(person, at, (stages) =>
    stages.map((each, i) =>
      i === stage && 'ring' in each ? { ...each, ring: each.ring.filter((_, t) => t !== target) } : each,
    ),
  );

export const setEnding = (person: Person, at: TreatmentAt, ending: Ending): Person =>
  withPlan(
    person,
    changeTreatment(person.plan, at, (treatment) => ({ ...treatment, ending })),
  );
/** @param busy undefined: as the ending */
export const setBusy = (person: Person, at: TreatmentAt, busy: Ending | undefined): Person =>
  withPlan(
    person,
    changeTreatment(person.plan, at, (treatment): Treatment => {
      const { busy: _before, ...rest } = treatment;
      return busy ? { ...rest, busy } : rest;
    }),
  );

/** The person as if one treatment of the plan were all of it, and no line were forwarded. */
export const onlyTreatment = (person: Person, at: TreatmentAt): Person => ({
  ...person,
  lines: person.lines.map(({ id, extension, numbers }) => ({ id, extension, numbers })),
  plan: { rules: [], otherwise: treatmentAt(person.plan, at) },
});

/** Where a target or stage stands, read from the path of a setting (`people[ines].plan.rules[r-1].stages[0].ring[1]`). */
export function placeOfSetting(
  setting: SettingRef,
): { person: string; treatment: TreatmentAt; stage: number; target: number } | null {
  const { of = null, steps = [] } = readSetting(setting) ?? {};
  const [plan, rule, stage, target, ...more] = steps;
  const isPlan = of?.list === 'people' && plan?.field === 'plan';
  if (!isPlan || stage?.field !== 'stages' || target?.field !== 'ring' || more.length > 0) return null;
  const treatment = rule?.field === 'otherwise' ? 'otherwise' : rule?.field === 'rules' ? rule.at : null;
  const [nthStage, nthTarget] = [Number(stage.at), Number(target.at)];
  return treatment === null || !Number.isInteger(nthStage) || !Number.isInteger(nthTarget)
    ? null
    : { person: of.id, treatment, stage: nthStage, target: nthTarget };
}
