import { removeRule } from '../../../editing';
import { settingOf, type Rule, type When } from '../../../estate';
import { mendOf } from '../walk';
import type { Check, CheckContext } from '../types';

const within = <T>(inner: readonly T[] | undefined, outer: readonly T[] | undefined) =>
  outer === undefined || (inner !== undefined && inner.every((each) => outer.includes(each)));

/** Whether whatever fits one condition fits the other too. */
const covers = (outer: When, inner: When): boolean =>
  within(inner.status, outer.status) &&
  within(inner.line, outer.line) &&
  within(inner.arrival, outer.arrival) &&
  (outer.schedule === undefined ||
    (inner.schedule?.id === outer.schedule.id && inner.schedule.inside === outer.schedule.inside)) &&
  (outer.caller === undefined ||
    (inner.caller?.class === outer.caller.class && within(inner.caller.numbers, outer.caller.numbers)) ||
    (outer.caller.class === 'external' && inner.caller?.class === 'anonymous' && false));

const YEAR_MS = 366 * 24 * 3_600_000;

function whyNever(
  rule: Rule,
  before: readonly Rule[],
  { clock, nowMs }: CheckContext,
  lines: readonly string[],
): string | null {
  const { schedule, status, line, arrival, caller } = rule.when;
  const stronger = before.find((each) => covers(each.when, rule.when));
  if (stronger) return `“${stronger.name}” stands before it and fits whenever it does`;
  if (status?.length === 0 || line?.length === 0 || arrival?.length === 0)
    return 'one of its conditions allows nothing';
  if (line && !line.some((id) => lines.includes(id)))
    return 'it asks for a line that the person does not have';
  if (caller?.class === 'listed' && !caller.numbers?.length) return 'its list of callers is empty';
  if (schedule) {
    const turns = clock(schedule.id);
    if (turns && turns.inside(nowMs) !== schedule.inside && turns.nextChange(nowMs) > nowMs + YEAR_MS)
      return `its hours are ${schedule.inside ? 'never inside' : 'never outside'} in the year to come`;
  }
  return null;
}

export const ruleNeverFires: Check = {
  id: 'rule-never-fires',
  of: 'person',
  weight: 'risk',
  title: 'A rule that can never fire',
  looksFor: 'Rules behind one that always fits first, and rules whose own conditions can never hold.',
  why: 'Somebody believes that it does something.',
  run: (person, context) =>
    person.plan.rules.flatMap((rule, i) => {
      const why = whyNever(
        rule,
        person.plan.rules.slice(0, i),
        context,
        person.lines.map(({ id }) => id),
      );
      if (!why) return [];
      return [
        {
          detail: rule.id,
          says: `“${rule.name}” never fires: ${why}.`,
          evidence: [
            { text: 'The rule', setting: settingOf('people', person.id, 'plan', ['rules', rule.id]) },
          ],
          mend: mendOf('Remove the rule', 'person', person, removeRule(person, rule.id)),
        },
      ];
    }),
};
