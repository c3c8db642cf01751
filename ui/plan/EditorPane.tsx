import { useEffect, useRef } from 'react';
import { ScrollView, View } from 'react-native';
import type { Estate, Person } from '../../core/estate';
import type { TreatmentAt } from '../../core/editing';
import { theEndpoint, type EstateIndex } from '../../core/calls/engine';
import type { Strip } from '../../core/calls/views';
import { RingStrip } from '../drawings/RingStrip';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Button, IconButton, Sheeted } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
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
  /** From a phone of a rule the way leads back to the rule. */
  const leave = () => onEditing(editing.endpoint && editing.at ? { at: editing.at } : null);
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
        onClose={() => onEditing(null)}
        action={{ label: isInRule ? 'Back to the rule' : 'Done', onPress: leave }}
      >
        {strip ? (
          <Sheeted style={{ marginHorizontal: -space(4), paddingVertical: space(2) }}>
            <RingStrip strip={strip} bare />
          </Sheeted>
        ) : null}
        {editor}
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
        <IconButton icon="close" label="Close the editor" onPress={() => onEditing(null)} />
      </View>
      {strip && at !== treatment ? (
        <View style={{ paddingBottom: space(2) }}>
          <Words size="small" tone="soft" style={{ paddingHorizontal: space(4) }}>
            The same call, if it came to this rule:
          </Words>
          <RingStrip strip={strip} bare />
        </View>
      ) : null}
      <ScrollView contentContainerStyle={{ padding: space(4), paddingTop: space(2) }}>{editor}</ScrollView>
    </View>
  );
}
