import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { showNumber } from '../../core/calls/dialling';
import { messageOf } from '../data/api';
import { useBringBackList, useNumberList, useRemoveList, useWriteList } from '../data/routing';
import { useCanEdit } from '../data/session';
import { space, useIsWide } from '../kit/theme';
import { removeListOnSlate } from '../data/slates';
import { ListImport } from './ListImport';
import { ON_SLATE } from './ListsPart';
import { ToSlate } from '../edit/ToSlate';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, Field, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';

/** One list of numbers: searched, replaced as a whole, brought back, removed. */
export function ListScreen({ id }: { readonly id: string }) {
  const wide = useIsWide();
  const router = useRouter();
  const canEdit = useCanEdit();
  const [search, setSearch] = useState('');
  const [replacing, setReplacing] = useState(false);
  const list = useNumberList(id, search);
  const back = useBringBackList();
  const remove = useRemoveList();
  const restore = useWriteList();
  const removed = remove.data;
  if (removed)
    return (
      <PageFrame title={removed.name} back={{ path: '/routes/table', label: 'Back to the route table' }}>
        <Section>
          <Words strong live>{`${removed.name} was removed, with ${removed.numbers.length} numbers.`}</Words>
          <Button
            icon="undo"
            label="Restore list"
            busy={restore.isPending}
            onPress={() =>
              restore.mutate(
                { file: new Blob([removed.numbers.join('\n')]), id: removed.id, name: removed.name },
                { onSuccess: () => remove.reset() },
              )
            }
          />
          {restore.isError ? <Trouble message={messageOf(restore.error)} /> : null}
          <Button label="To the route table" onPress={() => router.navigate('/routes/table')} />
        </Section>
      </PageFrame>
    );
  if (list.isError) return <Trouble message={messageOf(list.error)} retry={() => void list.refetch()} />;
  if (list.isPending) return <Skeleton />;
  const { name, count, matching, numbers, hasPrevious, onSlate } = list.data;
  return (
    <PageFrame
      title={name}
      text={`${count === 1 ? 'one number' : `${count.toLocaleString('en')} numbers`}${onSlate ? `, ${ON_SLATE[onSlate]}` : ''}`}
      back={{ path: '/routes/table', label: 'Back to the route table' }}
    >
      <Section>
        <View style={{ maxWidth: 420 }}>
          <Field
            label="Find a number"
            mono
            keyboard="phone-pad"
            value={search}
            onChange={setSearch}
            hint={
              search.trim() === ''
                ? null
                : matching === 0
                  ? 'No number has that in it'
                  : `${matching.toLocaleString('en')} have it`
            }
          />
        </View>
        {count === 0 ? (
          <Empty title="No numbers" text="Replace the list by a file that has some." />
        ) : (
          <View role="list" style={{ flexDirection: 'row', flexWrap: 'wrap', columnGap: space(6) }}>
            {numbers.map((number) => (
              <View role="listitem" key={number} style={{ width: wide ? 180 : '100%' }}>
                <Words mono>{showNumber(number)}</Words>
              </View>
            ))}
          </View>
        )}
        {matching > numbers.length ? (
          <Words size="small" tone="soft">
            {`The first ${numbers.length} of ${matching.toLocaleString('en')}; search for others.`}
          </Words>
        ) : null}
      </Section>
      {canEdit ? (
        <Section title="Change the list">
          <View style={{ gap: space(2), alignItems: 'flex-start' }}>
            <Button icon="import" label="Replace it by a file" onPress={() => setReplacing(true)} />
            {hasPrevious && !onSlate ? (
              <Button
                icon="undo"
                label="Take the last replacement back"
                busy={back.isPending}
                onPress={() => back.mutate(id)}
              />
            ) : null}
            <ToSlate
              kind="quiet"
              label="Remove it, on the slate"
              put={(slate) => removeListOnSlate(slate, id)}
              onDone={() => router.navigate('/routes/table')}
            />
            {onSlate ? null : (
              <Button
                kind="quiet"
                label="Remove this list"
                busy={remove.isPending}
                onPress={() => remove.mutate(id)}
              />
            )}
            {back.isError ? <Trouble message={messageOf(back.error)} /> : null}
            {remove.isError ? <Trouble message={messageOf(remove.error)} /> : null}
          </View>
        </Section>
      ) : null}
      {replacing ? <ListImport list={list.data} taken={[]} onClose={() => setReplacing(false)} /> : null}
    </PageFrame>
  );
}
