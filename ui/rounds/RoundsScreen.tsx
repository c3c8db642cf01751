import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { messageOf } from '../data/api';
import { useAddRound, useRestoreRound, useRounds } from '../data/rounds';
import { useCanEdit } from '../data/session';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, Field, LinkRow, LinkRows, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { NeverPart } from './NeverPart';
import { sayRow } from './words';

/** All rounds of calls, and the numbers that none of them calls. */
export function RoundsScreen() {
  const rounds = useRounds();
  const canEdit = useCanEdit();
  const [adding, setAdding] = useState(false);
  if (rounds.isError)
    return <Trouble message={messageOf(rounds.error)} retry={() => void rounds.refetch()} />;
  if (rounds.isPending) return <Skeleton />;
  const { rounds: rows, removed } = rounds.data;
  return (
    <PageFrame
      title="Rounds of calls"
      term="round"
      text="One recording to everybody on a list, such as a cancelled sailing"
      back={null}
    >
      <Section>
        {canEdit ? (
          <View style={{ flexDirection: 'row' }}>
            <Button icon="add" label="Add a round" onPress={() => setAdding(true)} />
          </View>
        ) : null}
        {rows.length === 0 ? (
          <Empty
            title="No rounds yet"
            text="A round needs a recording, a list of numbers as CSV, and somebody else who approves it."
          />
        ) : (
          <LinkRows>
            {rows.map((row) => (
              <LinkRow key={row.id} title={row.name} text={sayRow(row)} href={`/rounds/${row.id}`} />
            ))}
          </LinkRows>
        )}
      </Section>
      {canEdit ? <NeverPart /> : null}
      {canEdit && removed.length > 0 ? <RemovedPart removed={removed} /> : null}
      {adding ? <AddSheet onClose={() => setAdding(false)} /> : null}
    </PageFrame>
  );
}

function RemovedPart({
  removed,
}: {
  readonly removed: readonly { readonly id: number; readonly name: string }[];
}) {
  const restore = useRestoreRound();
  return (
    <Section title="Removed rounds">
      {removed.map(({ id, name }) => (
        <View key={id} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
          <Words style={{ flex: 1 }}>{name}</Words>
          <Button kind="quiet" label={`Restore ${name}`} onPress={() => restore.mutate(id)} />
        </View>
      ))}
      <Refused error={restore.error} />
    </Section>
  );
}

function AddSheet({ onClose }: { readonly onClose: () => void }) {
  const router = useRouter();
  const [name, setName] = useState('');
  const add = useAddRound((id) => {
    onClose();
    router.navigate(`/rounds/${id}`);
  });
  const isFit = name.trim() !== '';
  const go = () => isFit && add.mutate(name.trim());
  return (
    <Sheet
      title="Add a round"
      open
      onClose={onClose}
      action={{ label: 'Add the round', disabled: !isFit, busy: add.isPending, onPress: go }}
    >
      <Field
        label="Name, such as “Sailing 7 of Friday cancelled”"
        value={name}
        onChange={setName}
        onSubmit={go}
        autoFocus
      />
      <Refused error={add.error} />
    </Sheet>
  );
}
