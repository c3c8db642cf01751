import { View } from 'react-native';
import { editRule, removeRule, setBusy, setEnding, setPermission, treatmentAt } from '../../core/editing';
import type { Person } from '../../core/estate';
import { describeWhen } from '../../core/calls/views';
import { space, usePalette } from '../kit/theme';
import { Button, Choice, Field, Fold } from '../kit/parts';
import { Words } from '../kit/Words';
import { EndingEditor } from './EndingEditor';
import { StagesEditor } from './StagesEditor';
import type { StagesProps } from './stages';
import { WhenEditor } from './WhenEditor';

/** One rule of a plan, or its last treatment: when it holds, what rings, and how it ends. */
export function TreatmentEditor({
  onRemoved,
  ...props
}: Omit<StagesProps, 'stages'> & { readonly onRemoved: () => void }) {
  const { person, estate, index, at, onEdit } = props;
  const palette = usePalette();
  const treatment = treatmentAt(person.plan, at);
  const rule = person.plan.rules.find(({ id }) => id === at);
  const line = { borderTopWidth: 1, borderColor: palette.line, paddingTop: space(3) };
  return (
    <View style={{ gap: space(4) }}>
      {rule ? (
        <>
          <Field
            label="Name of the rule"
            value={rule.name}
            onChange={(name) => name.trim() && onEdit((p) => editRule(p, rule.id, { name }), `${at}/name`)}
          />
          <View style={{ marginHorizontal: -space(4) }}>
            <Fold title={`When: ${describeWhen(index, rule.when, person)}`}>
              <View style={{ paddingHorizontal: space(4) }}>
                <WhenEditor
                  when={rule.when}
                  person={person}
                  estate={estate}
                  onChange={(when) => onEdit((p: Person) => editRule(p, rule.id, { when }), `${at}/when`)}
                />
              </View>
            </Fold>
          </View>
        </>
      ) : (
        <Words tone="soft">Applies whenever no rule fits, so that there is always an answer.</Words>
      )}
      <StagesEditor {...props} stages={treatment.stages} />
      <View style={line}>
        <EndingEditor
          key={`${at}-ending`}
          label="Nobody answers"
          ending={treatment.ending}
          estate={estate}
          index={index}
          owner={person}
          canQueue
          onPermission={(id) => onEdit((p) => setPermission(p, id))}
          onChange={(ending) => onEdit((p) => setEnding(p, at, ending), `${at}/ending`)}
        />
      </View>
      <View style={[line, { gap: space(3) }]}>
        <Choice
          label="Already on as many calls as can be"
          value={treatment.busy ? 'own' : 'same'}
          options={[
            { value: 'same', label: 'When busy: the same' },
            { value: 'own', label: 'When busy: something else' },
          ]}
          onChange={(how) => onEdit((p) => setBusy(p, at, how === 'same' ? undefined : treatment.ending))}
        />
        {treatment.busy ? (
          <EndingEditor
            key={`${at}-busy`}
            label="When busy"
            ending={treatment.busy}
            estate={estate}
            index={index}
            owner={person}
            canQueue
            onPermission={(id) => onEdit((p) => setPermission(p, id))}
            onChange={(busy) => onEdit((p) => setBusy(p, at, busy), `${at}/busy`)}
          />
        ) : null}
      </View>
      {rule ? (
        <View style={line}>
          <Button
            kind="quiet"
            label="Remove this rule"
            onPress={() => {
              onEdit((p) => removeRule(p, rule.id));
              onRemoved();
            }}
          />
        </View>
      ) : null}
    </View>
  );
}
