import type { ObjectPage } from '../../api/objects';
import type { DiallingPage, HeldPermission } from '../../api/routing';
import { useState } from 'react';
import { View } from 'react-native';
import { NUMBER_CLASSES, type NumberClass, type Permission, type Trunk } from '../../core/estate';
import { messageOf } from '../data/api';
import { idFrom, useAddObject, useObject, useObjectWork } from '../data/objects';

import { useCanEdit } from '../data/session';
import { space } from '../kit/theme';
import { Button, Field, Skeleton, Tick, Trouble } from '../kit/parts';
import { RemovePart } from '../edit/RemovePart';
import { Sheet } from '../kit/Sheet';
import { SlateNote } from '../edit/SlateNote';
import { ToSlate } from '../edit/ToSlate';
import { Words } from '../kit/Words';
import { E164_BEGINNING, SeveralField } from '../kit/SeveralField';
import { tidy } from '../edit/tidy';
import { LimitFields, ScreeningFields, someOf } from './LimitFields';

export const CLASS_WORDS: Readonly<Record<NumberClass, string>> = {
  local: 'local numbers',
  national: 'national numbers',
  mobile: 'mobiles',
  'toll-free': 'toll-free numbers',
  premium: 'premium numbers',
  international: 'numbers abroad',
};
export const classesIn = (all: readonly NumberClass[]): string =>
  all.length === 0 ? 'nothing' : all.map((each) => CLASS_WORDS[each]).join(', ');

type Kind = 'permission' | 'trunk';
const KIND_WORDS = { permission: 'permission', trunk: 'trunk' } as const;

export function AddSheet({ kind, onClose }: { kind: Kind; onClose: () => void }) {
  const [name, setName] = useState('');
  const add = useAddObject(kind);
  const id = idFrom(name);
  const fresh = kind === 'permission' ? { id, name, allow: [] } : { id, name, channels: 1, carries: [] };
  return (
    <Sheet
      title={`Add a ${KIND_WORDS[kind]}`}
      open
      onClose={onClose}
      action={{
        label: `Add a ${KIND_WORDS[kind]}`,
        disabled: id === '',
        busy: add.isPending,
        onPress: () => add.mutate(fresh, { onSuccess: onClose }),
      }}
    >
      {add.isError ? <Trouble message={messageOf(add.error)} /> : null}
      <Field label="Name" value={name} onChange={setName} autoFocus />
    </Sheet>
  );
}

export function ObjectSheet({
  kind,
  id,
  page,
  onClose,
}: {
  kind: Kind;
  id: string;
  page: DiallingPage | null;
  onClose: () => void;
}) {
  const stored = useObject<Permission | Trunk>(kind, id);
  if (stored.isError || stored.isPending)
    return (
      <Sheet title="…" open onClose={onClose}>
        {stored.isError ? <Trouble message={messageOf(stored.error)} /> : <Skeleton rows={2} />}
      </Sheet>
    );
  return (
    <EditSheet
      kind={kind}
      page={stored.data}
      held={page?.permissions.find((each) => each.id === id)?.held ?? []}
      onClose={onClose}
    />
  );
}

function EditSheet({
  kind,
  page,
  held,
  onClose,
}: {
  kind: Kind;
  page: ObjectPage<Permission | Trunk>;
  held: HeldPermission['held'];
  onClose: () => void;
}) {
  const canEdit = useCanEdit();
  const work = useObjectWork(kind, page);
  const { object } = work;
  const classes = 'allow' in object ? object.allow : object.carries;
  const setClasses = (next: readonly NumberClass[]) =>
    work.edit((before) => ('allow' in before ? { ...before, allow: next } : { ...before, carries: next }));
  const prefixes = (
    label: string,
    field: 'allowPrefixes' | 'denyPrefixes',
    value: readonly string[] | undefined,
  ) => (
    <SeveralField
      label={label}
      values={value ?? []}
      fits={E164_BEGINNING}
      example="+1900"
      hint={null}
      onChange={(next) => {
        if (!next) return;
        const { [field]: _before, ...rest } = object as Permission;
        work.edit(() => (next.length > 0 ? { ...rest, [field]: next } : rest));
      }}
    />
  );
  return (
    <Sheet
      title={object.name || KIND_WORDS[kind]}
      open
      onClose={onClose}
      footer={
        canEdit ? (
          <>
            <Button icon="undo" label="Undo" disabled={!work.changed} onPress={work.undo} />
            <Button grow label="Put live" disabled={!work.changed} busy={work.busy} onPress={work.apply} />
            <ToSlate
              grow
              disabled={!work.changed}
              entries={() => (work.entry ? [work.entry] : [])}
              onDone={() => {
                work.discard();
                onClose();
              }}
            />
          </>
        ) : null
      }
    >
      {work.trouble ? <Trouble message={work.trouble} /> : null}
      {work.changed ? null : <SlateNote kind={kind} id={object.id} onTake={canEdit ? work.takeOver : null} />}
      {work.conflict ? (
        <View style={{ gap: space(2) }}>
          <Words tone="rust">Somebody else has changed it meanwhile.</Words>
          <Button label="Go on with mine" onPress={work.keepMine} />
          <Button label="Take theirs" onPress={work.takeTheirs} />
        </View>
      ) : null}
      {work.faults.map(({ path, message }) => (
        <Words key={path} tone="rust" size="small" live>{`${path}: ${message}`}</Words>
      ))}
      <Field
        label="Name"
        value={object.name}
        onChange={(name) => work.edit((before) => ({ ...before, name }))}
      />
      {'channels' in object ? (
        <Field
          label="Channels: calls at once"
          mono
          keyboard="decimal-pad"
          value={String(object.channels)}
          onChange={(text) =>
            work.edit((before) => ({ ...before, channels: Number(text.replace(/\D/g, '').slice(0, 6)) || 0 }))
          }
        />
      ) : null}
      {'channels' in object ? (
        <ScreeningFields
          screening={object.screening}
          onChange={(screening) => work.edit((before) => tidy({ ...(before as Trunk), screening }))}
        />
      ) : null}
      <View>
        <Words size="small" tone="soft">
          {kind === 'permission' ? 'May call' : 'Carries'}
        </Words>
        {NUMBER_CLASSES.map((each) => (
          <Tick
            key={each}
            label={CLASS_WORDS[each]}
            on={classes.includes(each)}
            onPress={() =>
              setClasses(classes.includes(each) ? classes.filter((one) => one !== each) : [...classes, each])
            }
          />
        ))}
      </View>
      {'allow' in object ? (
        <>
          {prefixes('Also numbers that begin with', 'allowPrefixes', object.allowPrefixes)}
          {prefixes('Never numbers that begin with', 'denyPrefixes', object.denyPrefixes)}
          <LimitFields
            limit={object.dayLimit ?? {}}
            onChange={(dayLimit) =>
              work.edit((before) => tidy({ ...(before as Permission), dayLimit: someOf(dayLimit) }))
            }
          />
          {held.length > 0 ? (
            <Words size="small" tone="soft">
              {`Had by ${held
                .slice(0, 6)
                .map(({ name }) => name)
                .join(', ')}${held.length > 6 ? ` and ${held.length - 6} others` : ''}`}
            </Words>
          ) : null}
        </>
      ) : null}
      {canEdit ? (
        <RemovePart
          kind={kind}
          id={object.id}
          name={object.name}
          label={`Remove this ${KIND_WORDS[kind]}`}
          onRemoved={onClose}
        />
      ) : null}
    </Sheet>
  );
}
