import type { ListHead, ListPreview } from '../../api/routing';
import { useState } from 'react';
import { View } from 'react-native';
import { showNumber } from '../../core/calls/dialling';
import type { PlacedFault } from '../../core/formats';
import { isApiError, messageOf } from '../data/api';
import { chooseFile } from '../data/files';
import { idFrom } from '../data/objects';
import { useListPreview, useWriteList } from '../data/routing';
import { space } from '../kit/theme';
import { Button, Choice, Field, Skeleton, Trouble } from '../kit/parts';
import { putListOnSlate } from '../data/slates';
import { ToSlate } from '../edit/ToSlate';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

const many = (count: number, what = 'number') =>
  count === 1 ? `one ${what}` : `${count.toLocaleString('en')} ${what}s`;

/** A list from a file: what was understood and what it changes is seen before it is put in the place of the old one. */
export function ListImport({
  list,
  taken,
  onClose,
}: {
  /** The list that is replaced; null: a new one. */
  readonly list: ListHead | null;
  readonly taken: readonly ListHead[];
  readonly onClose: () => void;
}) {
  const [file, setFile] = useState<File | null>(null);
  const [name, setName] = useState(list?.name ?? '');
  const preview = useListPreview();
  const write = useWriteList();
  const id = list?.id ?? idFrom(name);
  const isTaken = !list && taken.some((each) => each.id === id);
  const read = (next: File, field?: string) =>
    preview.mutate({
      file: next,
      ...(list ? { list: list.id } : {}),
      ...(field === undefined ? {} : { field }),
    });
  const choose = async () => {
    const next = await chooseFile('.csv,.ldif,.ldf,.txt,text/csv,text/plain');
    if (!next) return;
    setFile(next);
    if (!list && name === '') setName(next.name.replace(/\.[^.]*$/, ''));
    read(next);
  };
  const understood = preview.data;
  const placed = isApiError(preview.error)
    ? (preview.error.body.placed as readonly PlacedFault[] | undefined)
    : undefined;
  const isReady =
    file !== null &&
    understood !== undefined &&
    understood.count > 0 &&
    id !== '' &&
    !isTaken &&
    !preview.isPending;
  return (
    <Sheet
      title={list ? `Replace ${list.name}` : 'Add a list'}
      open
      onClose={onClose}
      action={{
        label: 'Put live',
        disabled: !isReady,
        busy: write.isPending,
        onPress: () =>
          file &&
          understood &&
          write.mutate({ file, id, name: name.trim(), field: understood.field }, { onSuccess: onClose }),
      }}
    >
      <Words>
        A CSV table, a number on each line, or a directory export in LDIF. Nothing is written until you have
        seen what was understood.
      </Words>
      <Button
        icon="import"
        label={file ? 'Choose another file' : 'Choose a file'}
        onPress={() => void choose()}
      />
      {preview.isPending ? <Skeleton rows={2} /> : null}
      {preview.isError ? (
        <View style={{ gap: space(1) }}>
          <Trouble
            message={placed ? `${file?.name ?? 'The file'} cannot be read.` : messageOf(preview.error)}
          />
          {placed?.map(({ line, column, message }) => (
            <Words key={`${line}-${column}-${message}`} size="small" tone="rust">
              {line > 0 ? `Line ${line}: ${message}` : message}
            </Words>
          ))}
        </View>
      ) : null}
      {understood && file ? (
        <Understood read={understood} isNew={!list} onField={(field) => read(file, field)} />
      ) : null}
      {understood && !list ? (
        <Field
          label="Name of the list"
          value={name}
          onChange={setName}
          error={isTaken ? 'There is a list of this name' : null}
        />
      ) : null}
      {isReady ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2), alignItems: 'center' }}>
          <ToSlate
            kind="plain"
            put={(slate) => putListOnSlate(slate, { file, id, name: name.trim(), field: understood.field })}
            onDone={onClose}
          />
          <Words size="small" tone="soft" style={{ flexShrink: 1 }}>
            There it shows which calls go elsewhere, before it goes live.
          </Words>
        </View>
      ) : null}
      {write.isError ? <Trouble message={messageOf(write.error)} /> : null}
    </Sheet>
  );
}

function Understood({
  read,
  isNew,
  onField,
}: {
  read: ListPreview;
  isNew: boolean;
  onField: (field: string) => void;
}) {
  return (
    <View style={{ gap: space(3) }}>
      <Words strong live>
        {`${read.count === 1 ? 'One number' : many(read.count)} from ${many(read.records, read.format === 'ldif' ? 'entry' : 'row').replace('entrys', 'entries')}${read.repeated > 0 ? `, ${read.repeated} more stand there again` : ''}.`}
      </Words>
      {read.fields.length > 1 ? (
        <View style={{ gap: space(1) }}>
          <Choice
            titled
            label="Read from"
            value={read.field}
            options={read.fields.slice(0, 8).map((field) => ({
              value: field.name,
              label: `${field.name} (${field.numbers.toLocaleString('en')})`,
            }))}
            onChange={onField}
          />
        </View>
      ) : null}
      {isNew ? null : (
        <View style={{ gap: space(1) }}>
          <Words>{`${many(read.kept)} stay, ${read.added.count} are new, ${read.removed.count} go.`}</Words>
          <Some title="New" of={read.added} />
          <Some title="Gone" of={read.removed} />
        </View>
      )}
      {read.refused > 0 ? (
        <View style={{ gap: 2 }}>
          <Words tone="ochre" strong>
            {`${read.refused === 1 ? 'One value' : many(read.refused, 'value')} ${read.refused === 1 ? 'is no number' : 'are no numbers'} and will be left out`}
          </Words>
          {read.refusals.slice(0, 8).map(({ line, text, reason }) => (
            <Words key={line} size="small">{`Line ${line}: ${JSON.stringify(text)}: ${reason}`}</Words>
          ))}
        </View>
      ) : null}
    </View>
  );
}

const SHOWN = 5;
function Some({ title, of }: { title: string; of: ListPreview['added'] }) {
  if (of.count === 0) return null;
  return (
    <Words size="small" tone="soft">
      {`${title}: ${of.some.slice(0, SHOWN).map(showNumber).join(', ')}${of.count > SHOWN ? ` and ${of.count - SHOWN} more` : ''}`}
    </Words>
  );
}
