import { useEffect, useRef, useState } from 'react';
import { ScrollView, View } from 'react-native';
import type { Estate, Person } from '../../core/estate';
import { begunRule, removeRule, type TreatmentAt } from '../../core/editing';
import { theEndpoint, type EstateIndex } from '../../core/calls/engine';
import type { Strip } from '../../core/calls/views';
import { RingStrip } from '../drawings/RingStrip';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Button, IconButton, Sheeted } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { useTyped, type TypedWrong } from '../kit/typed';
import { TargetEditor } from './TargetEditor';
import { Words } from '../kit/Words';
import { TreatmentEditor } from './TreatmentEditor';

/** What of a plan is being edited: how a phone rings in a treatment, or (without a phone) a treatment as a whole. */
export interface Editing {
  readonly endpoint?: string;
  readonly at?: TreatmentAt;
}

/** The editor of a plan: a sheet from below on a phone, a pane at the right on a wide screen. */
export function EditorPane({
  editing,
  treatment,
  person,
  estate,
  index,
  strip,
  onEdit,
  onEditing,
}: {
  readonly editing: Editing;
  /** The treatment that is in view, where none is named. */
  readonly treatment: TreatmentAt;
  readonly person: Person;
  readonly estate: Estate;
  readonly index: EstateIndex;
  /** The call as it goes in what is edited; null where there is none to show. */
  readonly strip: Strip | null;
  readonly onEdit: (change: (person: Person) => Person, merge?: string) => void;
  readonly onEditing: (editing: Editing | null) => void;
}) {
  const palette = usePalette();
  const wide = useIsWide();
  const at = editing.at ?? treatment;
  const pane = useRef<View>(null);
  // The keyboard goes into the editor when it opens, and back to where it was when it closes.
  useEffect(() => {
    if (!wide) return;
    const before = document.activeElement;
    const node = pane.current as unknown as HTMLElement | null;
    node?.focus?.({ preventScroll: true });
    return () => {
      if (before instanceof HTMLElement && before.isConnected) before.focus({ preventScroll: true });
    };
  }, [wide]);
  const isInRule = editing.endpoint !== undefined && editing.at !== undefined;
  const typed = useTyped();
  const [asked, setAsked] = useState<Asked | null>(null);
  /** Whatever was typed and not taken, or begun and not finished, is asked about before the editor goes. */
  const leaveFor = (next: Editing | null) => {
    const wrong = typed.first();
    const begun = next === null && editing.at ? begunRule(person, editing.at) : null;
    if (wrong) setAsked({ next, wrong, begun: null });
    else if (begun) setAsked({ next, wrong: null, begun });
    else onEditing(next);
  };
  const close = () => leaveFor(null);
  /** From a phone of a rule the way leads back to the rule. */
  const leave = () => leaveFor(editing.endpoint && editing.at ? { at: editing.at } : null);
  const go = (next: Editing | null) => {
    setAsked(null);
    onEditing(next);
  };
  const asking = asked ? (
    <AskFirst
      asked={asked}
      onBack={() => setAsked(null)}
      onGo={() => go(asked.next)}
      onRemove={() => {
        if (editing.at) onEdit((each) => removeRule(each, editing.at!));
        go(null);
      }}
    />
  ) : null;
  const title = editing.endpoint
    ? `How ${theEndpoint(index, editing.endpoint, person.id)} rings`
    : editing.at === 'otherwise'
      ? 'When no rule fits'
      : 'A rule of the plan';
  const editor = editing.endpoint ? (
    <TargetEditor
      key={`${editing.endpoint} ${at}`}
      person={person}
      estate={estate}
      endpointId={editing.endpoint}
      treatment={at}
      onEdit={onEdit}
    />
  ) : (
    <TreatmentEditor
      key={at}
      person={person}
      estate={estate}
      index={index}
      at={at}
      onEdit={onEdit}
      onTarget={(endpoint, treated) => onEditing({ endpoint, at: treated })}
      onRemoved={() => onEditing(null)}
    />
  );
  if (!wide)
    return (
      <Sheet
        title={title}
        open
        onClose={close}
        action={{ label: isInRule ? 'Back to the rule' : 'Done', onPress: leave }}
      >
        {strip ? (
          <Sheeted style={{ marginHorizontal: -space(4), paddingVertical: space(2) }}>
            <RingStrip strip={strip} bare />
          </Sheeted>
        ) : null}
        {asking}
        {typed.within(editor)}
      </Sheet>
    );
  return (
    <View
      ref={pane}
      {...({ tabIndex: -1 } as object)}
      role="region"
      aria-label={title}
      style={{
        width: 380,
        ...({ outlineStyle: 'none' } as object),
        borderLeftWidth: 1,
        borderColor: palette.line,
        backgroundColor: palette.sheet,
      }}
    >
      <View
        style={{ flexDirection: 'row', alignItems: 'center', paddingLeft: space(4), paddingTop: space(3) }}
      >
        <Words size="lead" strong heading={2} style={{ flex: 1 }}>
          {title}
        </Words>
        {isInRule ? <Button kind="quiet" label="Back to the rule" onPress={leave} /> : null}
        <IconButton icon="close" label="Close the editor" onPress={close} />
      </View>
      {strip && at !== treatment ? (
        <View style={{ paddingBottom: space(2) }}>
          <Words size="small" tone="soft" style={{ paddingHorizontal: space(4) }}>
            The same call, if it came to this rule:
          </Words>
          <RingStrip strip={strip} bare />
        </View>
      ) : null}
      {asking ? <View style={{ paddingHorizontal: space(4) }}>{asking}</View> : null}
      <ScrollView contentContainerStyle={{ padding: space(4), paddingTop: space(2) }}>
        {typed.within(editor)}
      </ScrollView>
    </View>
  );
}

interface Asked {
  readonly next: Editing | null;
  readonly wrong: TypedWrong | null;
  readonly begun: 'nothing' | 'all' | null;
}

/** What is asked before the editor goes. */
function AskFirst({
  asked: { wrong, begun },
  onBack,
  onGo,
  onRemove,
}: {
  readonly asked: Asked;
  readonly onBack: () => void;
  readonly onGo: () => void;
  readonly onRemove: () => void;
}) {
  const palette = usePalette();
  return (
    <View
      role="alert"
      style={{ gap: space(2), padding: space(3), borderWidth: 1, borderColor: palette.rust }}
    >
      <Words strong tone="rust">
        {wrong
          ? `Not taken. ${wrong.label}: ${wrong.error}`
          : begun === 'all'
            ? 'This rule has no condition: it takes every call, and no rule below it is come to.'
            : 'This rule has no condition and does what the default rule does: it changes nothing.'}
      </Words>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        <Button kind="main" label={wrong ? 'Mend it' : 'Go on with it'} onPress={onBack} />
        {wrong ? (
          <Button label="Close without it" onPress={onGo} />
        ) : (
          <>
            <Button label="Remove the rule" onPress={onRemove} />
            <Button kind="quiet" label="Keep it so" onPress={onGo} />
          </>
        )}
      </View>
    </View>
  );
}
