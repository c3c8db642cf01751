import type { Ending, Line, Menu, Plan, RingTarget, SimpleEnding, Stage, Treatment } from './types';

/** What becomes of each ending and each phone that a plan names; null: the phone is taken out. */
export interface PlanMap {
  readonly ending: (ending: SimpleEnding) => SimpleEnding;
  readonly target: (target: RingTarget) => RingTarget | null;
}

/** An ending with what it leads to changed; of a queue, what follows it. */
export const mapEnding = (ending: Ending, { ending: map }: PlanMap): Ending =>
  ending.kind === 'queue' ? { ...ending, then: map(ending.then) } : map(ending);

function mapStages(stages: readonly Stage[], to: PlanMap): readonly Stage[] {
  return stages.flatMap((stage): Stage[] => {
    if ('ring' in stage) {
      const ring = stage.ring.flatMap((target) => to.target(target) ?? []);
      // A stage in which nothing is left to ring would be a silence.
      return ring.length > 0 || stage.ring.length === 0 ? [{ ...stage, ring }] : [];
    }
    if ('offer' in stage)
      return [
        {
          offer: {
            ...stage.offer,
            choices: stage.offer.choices.map((choice) =>
              choice.then === 'next' ? choice : { ...choice, then: to.ending(choice.then) },
            ),
          },
        },
      ];
    return [{ code: { ...stage.code, wrong: to.ending(stage.code.wrong) } }];
  });
}

const mapTreatment = <T extends Treatment>(treatment: T, to: PlanMap): T => ({
  ...treatment,
  stages: mapStages(treatment.stages, to),
  ending: mapEnding(treatment.ending, to),
  ...(treatment.busy ? { busy: mapEnding(treatment.busy, to) } : {}),
});

/** A plan with what it leads to changed. */
export const mapPlan = (plan: Plan, to: PlanMap): Plan => ({
  rules: plan.rules.map((rule) => mapTreatment(rule, to)),
  otherwise: mapTreatment(plan.otherwise, to),
});

/** A line with what its forwards lead to changed. */
export const mapLine = (line: Line, to: PlanMap): Line => ({
  ...line,
  ...(line.forwardAll ? { forwardAll: to.ending(line.forwardAll) } : {}),
  ...(line.forwardAfter ? { forwardAfter: to.ending(line.forwardAfter) } : {}),
});

export const mapMenu = (menu: Menu, to: PlanMap): Menu => ({
  ...menu,
  rules: menu.rules.map((rule) => ({
    ...rule,
    choices: rule.choices.map((choice) => ({ ...choice, then: to.ending(choice.then) })),
    otherwise: to.ending(rule.otherwise),
  })),
});
