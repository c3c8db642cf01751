import { memo, useState } from 'react';
import { View } from 'react-native';
import {
  setBusy,
  setEnding,
  setForward,
  setPermission,
  treatmentAt,
  type TreatmentAt,
} from '../../core/editing';
import {
  capital,
  forwardAt,
  type Ending,
  type Estate,
  type Person,
  type SimpleEnding,
} from '../../core/estate';
import { endingPhrase, type EstateIndex } from '../../core/calls/engine';
import { EndingEditor } from '../plan/EndingEditor';
import { Button, Section } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

type Which = 'always' | 'busy' | 'no-answer';
const WHEN: Record<Which, string> = { always: 'always', busy: 'when busy', 'no-answer': 'on no answer' };
const titleOf = (which: Which): string => `Forward ${WHEN[which]}`;

/** Call forwarding under its name: always, when busy, and on no answer by the rule in view. */
export const ForwardingPart = memo(function ForwardingPart({
  person,
  estate,
  index,
  treatment,
  now,
  onEdit,
}: {
  readonly person: Person;
  readonly estate: Estate;
  readonly index: EstateIndex;
  /** The rule that calls come to at the moment in view. */
  readonly treatment: TreatmentAt;
  readonly now: number;
  readonly onEdit: ((change: (person: Person) => Person, merge?: string) => void) | null;
}) {
  const palette = usePalette();
  const [open, setOpen] = useState<Which | null>(null);
  const treated = treatmentAt(person.plan, treatment);
  const rule = person.plan.rules.find(({ id }) => id === treatment);
  const line = person.lines[0];
  const always = line ? forwardAt(line, now) : null;
  const say = (ending: Ending) => endingPhrase(index, ending, person.id);
  const rows: readonly { readonly which: Which; readonly says: string; readonly on: boolean }[] = [
    { which: 'always', says: always ? say(always) : 'Off: the plan decides', on: always !== null },
    {
      which: 'busy',
      says: treated.busy ? say(treated.busy) : `as on no answer: ${say(treated.ending)}`,
      on: treated.busy !== undefined,
    },
    { which: 'no-answer', says: say(treated.ending), on: true },
  ];
  return (
    <Section title="Call forwarding" term="call-forwarding">
      <Words size="small" tone="soft">
        {person.plan.rules.length === 0
          ? 'When busy and on no answer, by the default rule.'
          : `For busy and no answer this shows ${rule ? `the rule “${rule.name}”` : 'the default rule'}. Other rules have their own.`}
      </Words>
      <View style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}>
        {rows.map(({ which, says, on }, i) => (
          <View
            key={which}
            style={{
              flexDirection: 'row',
              alignItems: 'center',
              gap: space(2),
              paddingHorizontal: space(3),
              paddingVertical: space(2),
              borderTopWidth: i > 0 ? 1 : 0,
              borderColor: palette.line,
            }}
          >
            <View style={{ flex: 1, gap: 2 }}>
              <Words strong>{capital(WHEN[which])}</Words>
              <Words size="small" tone={which === 'always' && on ? 'accent' : 'soft'}>
                {capital(says)}
              </Words>
            </View>
            {onEdit && line ? (
              <>
                {which === 'always' && on ? (
                  <Button
                    kind="quiet"
                    label="Switch off"
                    onPress={() => onEdit((before) => setForward(before, null))}
                  />
                ) : null}
                <Button kind="quiet" label="Change" onPress={() => setOpen(which)} />
              </>
            ) : null}
          </View>
        ))}
      </View>
      {open && onEdit ? (
        <ForwardSheet
          which={open}
          person={person}
          estate={estate}
          index={index}
          treatment={treatment}
          always={always}
          onEdit={onEdit}
          onClose={() => setOpen(null)}
        />
      ) : null}
    </Section>
  );
});

function ForwardSheet({
  which,
  person,
  estate,
  index,
  treatment,
  always,
  onEdit,
  onClose,
}: {
  readonly which: Which;
  readonly person: Person;
  readonly estate: Estate;
  readonly index: EstateIndex;
  readonly treatment: TreatmentAt;
  readonly always: SimpleEnding | null;
  readonly onEdit: (change: (person: Person) => Person, merge?: string) => void;
  readonly onClose: () => void;
}) {
  const treated = treatmentAt(person.plan, treatment);
  const [chosen, setChosen] = useState<Ending | null>(
    which === 'always' ? always : which === 'busy' ? (treated.busy ?? treated.ending) : treated.ending,
  );
  const done = () => {
    if (!chosen) return;
    onEdit((before) =>
      which === 'always'
        ? setForward(before, chosen as SimpleEnding)
        : which === 'busy'
          ? setBusy(before, treatment, chosen)
          : setEnding(before, treatment, chosen),
    );
    onClose();
  };
  return (
    <Sheet
      title={titleOf(which)}
      open
      onClose={onClose}
      action={{
        label: chosen ? `${titleOf(which)}: ${endingPhrase(index, chosen, person.id)}` : 'Choose where to',
        disabled: chosen === null,
        onPress: done,
      }}
      {...(which === 'busy' && treated.busy
        ? {
            footer: (
              <Button
                label="As on no answer"
                onPress={() => {
                  onEdit((before) => setBusy(before, treatment, undefined));
                  onClose();
                }}
              />
            ),
          }
        : {})}
    >
      {which === 'always' ? (
        <Words tone="soft">
          Every call goes there at once and no rule is asked, on all lines, until somebody switches it off.
          For a day or a week use Cover, which ends by itself.
        </Words>
      ) : null}
      <EndingEditor
        label={which === 'always' ? 'All calls go' : which === 'busy' ? 'When busy' : 'Nobody answers'}
        ending={chosen}
        estate={estate}
        index={index}
        owner={person}
        canQueue={which !== 'always'}
        onChange={setChosen}
        onUnset={() => setChosen(null)}
        onPermission={(id) => onEdit((before) => setPermission(before, id))}
      />
    </Sheet>
  );
}
