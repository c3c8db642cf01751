import { View } from 'react-native';
import { saidOf } from '../../core/assurance/checks';
import { setPermission } from '../../core/editing';
import type { Choice as KeyChoice, CodeStage, OfferStage, SimpleEnding } from '../../core/estate';
import { space, usePalette } from '../kit/theme';
import { Button, Choice, Field, IconButton } from '../kit/parts';
import { TimeField } from '../kit/TimeField';
import { Words } from '../kit/Words';
import { EndingEditor } from './EndingEditor';
import type { StagesProps } from './stages';

const KEYS = [...'1234567890*#'];

/** A greeting that offers keys: its times, what each key does, and what the greeting says of it. */
export function OfferStageEditor({
  person,
  estate,
  index,
  stage: { offer },
  onStage,
  onEdit,
}: StagesProps & { stage: OfferStage; onStage: (stage: OfferStage) => void }) {
  const palette = usePalette();
  const set = (patch: Partial<OfferStage['offer']>) => onStage({ offer: { ...offer, ...patch } });
  const setChoice = (i: number, choice: KeyChoice<'next' | SimpleEnding>) =>
    set({ choices: offer.choices.map((each, n) => (n === i ? choice : each)) });
  const free = KEYS.filter((key) => !offer.choices.some((choice) => choice.key === key));
  const says = offer.greeting?.says ?? [];
  return (
    <>
      <TimeField
        label="The greeting lasts"
        value={offer.greetingMs}
        onChange={(ms) => ms !== null && set({ greetingMs: ms })}
      />
      <TimeField
        label="Then silence for"
        value={offer.waitMs}
        onChange={(ms) => ms !== null && set({ waitMs: ms })}
        hint="With no key pressed by then, the ending applies"
      />
      {offer.choices.map((choice, i) => (
        <View
          key={choice.key}
          style={{ gap: space(2), borderTopWidth: 1, borderColor: palette.line, paddingTop: space(2) }}
        >
          <View style={{ flexDirection: 'row', alignItems: 'center' }}>
            <Words strong style={{ flex: 1 }}>{`Key ${choice.key}`}</Words>
            <IconButton
              icon="close"
              label={`Remove key ${choice.key}`}
              onPress={() => set({ choices: offer.choices.filter((_, n) => n !== i) })}
            />
          </View>
          <Choice
            label={`What key ${choice.key} does`}
            value={choice.then === 'next' ? 'next' : 'ending'}
            options={[
              { value: 'next', label: 'Goes on to the next step' },
              { value: 'ending', label: 'Leads elsewhere' },
            ]}
            onChange={(next) =>
              setChoice(i, { ...choice, then: next === 'next' ? 'next' : { kind: 'mailbox' } })
            }
          />
          {choice.then === 'next' ? null : (
            <EndingEditor
              label={`Key ${choice.key} leads to`}
              ending={choice.then}
              estate={estate}
              index={index}
              owner={person}
              canQueue={false}
              onPermission={(id) => onEdit((before) => setPermission(before, id))}
              onChange={(then) => setChoice(i, { ...choice, then: then as SimpleEnding })}
            />
          )}
        </View>
      ))}
      {free[0] ? (
        <Button
          kind="quiet"
          icon="add"
          label={`Offer key ${free[0]}`}
          onPress={() => set({ choices: [...offer.choices, { key: free[0]!, then: { kind: 'mailbox' } }] })}
        />
      ) : null}
      <Field
        label="What the recorded greeting says"
        multiline
        value={offer.greeting?.text ?? ''}
        onChange={(text) => set({ greeting: { text, says } })}
        hint={
          offer.greeting
            ? `It tells of ${says.length ? says.map(({ key }) => `key ${key}`).join(', ') : 'no key'}`
            : 'Not recorded yet, so it is not compared with what happens'
        }
      />
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        {KEYS.slice(0, 10)
          .filter((key) => says.some((each) => each.key === key))
          .map((key) => (
            <Button
              key={key}
              kind="quiet"
              label={`It does not say ${key}`}
              onPress={() =>
                set({ greeting: { ...offer.greeting, says: says.filter((each) => each.key !== key) } })
              }
            />
          ))}
        <Button
          kind="quiet"
          label="It says what the keys do"
          onPress={() => set({ greeting: { ...offer.greeting, says: offer.choices.map(saidOf) } })}
        />
      </View>
    </>
  );
}

/** A gate that asks the caller for a code. */
export function CodeStageEditor({
  person,
  estate,
  index,
  stage: { code },
  onStage,
  onEdit,
}: StagesProps & { stage: CodeStage; onStage: (stage: CodeStage) => void }) {
  const set = (patch: Partial<CodeStage['code']>) => onStage({ code: { ...code, ...patch } });
  return (
    <>
      <Field
        label="Code, in digits"
        mono
        keyboard="decimal-pad"
        value={code.digits}
        onChange={(text) => {
          const digits = text.replace(/\D/g, '').slice(0, 32);
          if (digits) set({ digits });
        }}
      />
      <TimeField
        label="Entered within"
        value={code.withinMs}
        onChange={(ms) => ms !== null && set({ withinMs: ms })}
      />
      <EndingEditor
        label="A wrong code, or none"
        ending={code.wrong}
        estate={estate}
        index={index}
        owner={person}
        canQueue={false}
        onPermission={(id) => onEdit((before) => setPermission(before, id))}
        onChange={(wrong) => set({ wrong: wrong as SimpleEnding })}
      />
    </>
  );
}
