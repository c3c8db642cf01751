import { useState } from 'react';
import { View } from 'react-native';
import type { Trunk } from '../../../core/estate';
import { messageOf } from '../../hooks/api';
import { useSetOrder } from '../../hooks/routing';
import { useCanEdit } from '../../stores/session';
import { usePalette } from '../../theme';
import { Button, Empty, IconButton, LinkRow, LinkRows, Section, Trouble } from '../parts';
import { AddSheet, classesIn, ObjectSheet } from './ObjectSheet';

/** The trunks by which calls leave, in the order in which they are tried. */
export function Trunks({ trunks }: { trunks: readonly Trunk[] }) {
  const canEdit = useCanEdit();
  const order = useSetOrder('trunk');
  const palette = usePalette();
  const [open, setOpen] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  return (
    <Section
      title="Trunks, in the order in which they are tried"
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
          {trunks.map(({ id, name, channels, carries }, at) => (
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
                    onPress={() => {
                      const ids = trunks.map((each) => each.id);
                      order.mutate([...ids.slice(0, at - 1), id, ids[at - 1]!, ...ids.slice(at + 1)]);
                    }}
                  />
                </View>
              ) : null}
            </View>
          ))}
        </LinkRows>
      )}
      {order.isError ? <Trouble message={messageOf(order.error)} /> : null}
      {open ? <ObjectSheet kind="trunk" id={open} page={null} onClose={() => setOpen(null)} /> : null}
      {adding ? <AddSheet kind="trunk" onClose={() => setAdding(false)} /> : null}
    </Section>
  );
}
