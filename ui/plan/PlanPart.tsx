import { memo, type ReactNode } from 'react';
import { View } from 'react-native';
import { personGreetingFaults } from '../../core/assurance/checks';
import { addRule, moveRule, NEW_RULE, type TreatmentAt } from '../../core/editing';
import type { Person } from '../../core/estate';
import { describeTreatment, describeWhen } from '../../core/calls/views';
import type { EstateIndex } from '../../core/calls/engine';
import { usePalette } from '../kit/theme';
import { Button, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { RuleOrder } from './RuleOrder';
import { RuleRow } from './RuleRow';

/** The reach plan: its rules in order, each a sentence, and the treatment that always fits last. */
export const PlanPart = memo(function PlanPart({
  person,
  index,
  now,
  onEdit,
  onOpen,
  below,
}: {
  readonly person: Person;
  readonly index: EstateIndex;
  /** The treatment that the call of the moment comes to. */
  readonly now: TreatmentAt | null;
  readonly onEdit: ((change: (person: Person) => Person) => void) | null;
  /** Null where nothing may be changed. */
  readonly onOpen: ((at: TreatmentAt) => void) | null;
  /** What stands below the rules: the template that the plan is of. */
  readonly below?: ReactNode;
}) {
  const palette = usePalette();
  const rows = person.plan.rules.map((rule) => ({
    id: rule.id,
    name: rule.name,
    when: describeWhen(index, rule.when, person),
    does: describeTreatment(index, rule, person.id),
    isNow: now === rule.id,
  }));
  const last = {
    id: 'otherwise',
    name: rows.length ? 'Default rule' : 'For every call',
    when: rows.length ? 'When no other rule holds' : 'Always',
    does: describeTreatment(index, person.plan.otherwise, person.id),
    isNow: now === 'otherwise',
  };
  const faults = personGreetingFaults(person, {
    person: (id) => index.people.get(id)?.name,
    group: (id) => index.groups.get(id)?.name,
    menu: (id) => index.menus.get(id)?.name,
  });
  const add = () => {
    const made = addRule(person, NEW_RULE);
    onEdit?.(() => made.person);
    onOpen?.(made.id);
  };
  return (
    <Section
      title="Reach plan"
      term="reach-plan"
      aside={onEdit ? <Button kind="quiet" icon="add" label="Add a rule" onPress={add} /> : null}
    >
      {rows.length > 0 ? (
        <Words size="small" tone="soft">
          The first rule that fits decides.
        </Words>
      ) : null}
      <View style={{ borderWidth: 1, borderColor: palette.line }}>
        <RuleOrder
          rows={rows}
          onOpen={onOpen}
          onMove={onEdit ? (from, to) => onEdit((p) => moveRule(p, from, to)) : null}
        />
        <View style={{ borderTopWidth: rows.length ? 1 : 0, borderColor: palette.line }}>
          <RuleRow row={last} i={0} rows={[last]} onOpen={onOpen} onMove={null} />
        </View>
      </View>
      {faults.map((fault) => (
        <Words key={`${fault.setting}${fault.key}`} size="small" tone="rust">
          {fault.text}
        </Words>
      ))}
      {below}
    </Section>
  );
});
