import { useState } from 'react';
import { View } from 'react-native';
import type { Trunk } from '../../core/estate';
import { messageOf } from '../data/api';
import { useSetOrder } from '../data/routing';
import { useCanEdit } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { ToSlate } from '../edit/ToSlate';
import { Button, Empty, IconButton, LinkRow, LinkRows, Section, Trouble } from '../kit/parts';
import { AddSheet, classesIn, ObjectSheet } from './ObjectSheet';

/** The trunks by which calls leave, in the order in which they are tried. */
export function Trunks({ trunks }: { trunks: readonly Trunk[] }) {
  const canEdit = useCanEdit();
  const order = useSetOrder('trunk');
  const palette = usePalette();
  const [open, setOpen] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  /** The order as it is being changed; null: as it is live. */
  const [draft, setDraft] = useState<readonly string[] | null>(null);
  const ids = trunks.map((each) => each.id);
  const wanted = draft ?? ids;
  const isChanged = wanted.join(' ') !== ids.join(' ');
  const shown = wanted.flatMap((id) => trunks.find((each) => each.id === id) ?? []);
  return (
    <Section
      title="Trunks, in the order in which they are tried"
      term="trunk"
      aside={
        canEdit ? (
          <Button kind="quiet" icon="add" label="Add a trunk" onPress={() => setAdding(true)} />
        ) : null
      }
    >
      {trunks.length === 0 ? (
        <Empty title="None yet" text="Without a trunk no call leaves the organisation." />
      ) : (
        <LinkRows>
          {shown.map(({ id, name, channels, carries }, at) => (
            <View key={id} style={{ flexDirection: 'row', backgroundColor: palette.sheet }}>
              <View style={{ flex: 1 }}>
                <LinkRow
                  title={name}
                  text={`${channels === 1 ? 'one channel' : `${channels} channels`}; carries ${classesIn(carries)}`}
                  onPress={() => setOpen(id)}
                />
              </View>
              {canEdit && at > 0 ? (
                <View style={{ borderBottomWidth: 1, borderColor: palette.line, justifyContent: 'center' }}>
                  <IconButton
                    icon="up"
                    label={`${name}: earlier`}
                    onPress={() =>
                      setDraft([...wanted.slice(0, at - 1), id, wanted[at - 1]!, ...wanted.slice(at + 1)])
                    }
                  />
                </View>
              ) : null}
            </View>
          ))}
        </LinkRows>
      )}
      {isChanged ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          <Button label="Discard" onPress={() => setDraft(null)} />
          <Button
            label="Put live"
            busy={order.isPending}
            onPress={() => order.mutate(wanted, { onSuccess: () => setDraft(null) })}
          />
          <ToSlate
            entries={() => [
              { kind: 'trunk-order', id: 'trunk-order', name: 'order of trunks', base: ids, after: wanted },
            ]}
            onDone={() => setDraft(null)}
          />
        </View>
      ) : null}
      {order.isError ? <Trouble message={messageOf(order.error)} /> : null}
      {open ? <ObjectSheet kind="trunk" id={open} page={null} onClose={() => setOpen(null)} /> : null}
      {adding ? <AddSheet kind="trunk" onClose={() => setAdding(false)} /> : null}
    </Section>
  );
}
