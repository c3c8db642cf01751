import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { messageOf } from '../hooks/api';
import { idFrom, useAddObject, type ObjectKind } from '../hooks/objects';
import { useCanEdit } from '../stores/session';
import { space, useIsWide, usePalette } from '../theme';
import { useNamed } from '../components/plan/Search';
import { Button, Empty, Field, LinkRow, Section, Skeleton, Trouble } from '../components/parts';
import { PageFrame } from '../components/PageFrame';
import { SettingsPart } from '../components/SettingsPart';
import { Sheet } from '../components/Sheet';

/** What calls pass through on their way; templates stand with the people. */
type RouteKind = Exclude<ObjectKind, 'template'>;

const PATHS: Record<RouteKind, string> = {
  group: '/groups',
  menu: '/menus',
  schedule: '/hours',
  status: '/statuses',
};

interface Kind {
  readonly kind: RouteKind;
  readonly title: string;
  readonly empty: string;
  readonly add: string;
}
const KINDS: readonly Kind[] = [
  {
    kind: 'group',
    title: 'Groups',
    empty: 'A group rings several people under one number.',
    add: 'Add a group',
  },
  {
    kind: 'menu',
    title: 'Menus',
    empty: 'A menu greets callers and leads them on by keys.',
    add: 'Add a menu',
  },
  { kind: 'schedule', title: 'Hours', empty: 'Hours say when rules and phones count.', add: 'Add hours' },
  {
    kind: 'status',
    title: 'Statuses',
    empty: 'A status is what people set on themselves.',
    add: 'Add a status',
  },
];

/** Where calls come in and what they pass: any number of the organisation, groups, menus, hours, statuses. */
export function RoutesScreen() {
  const router = useRouter();
  const wide = useIsWide();
  const [number, setNumber] = useState('');
  const show = () => number.trim() && router.navigate(`/numbers/${encodeURIComponent(number.trim())}`);
  return (
    <PageFrame title="Routes" back={null}>
      <Section title="What does this number do?">
        <View
          style={{
            flexDirection: wide ? 'row' : 'column',
            gap: space(2),
            alignItems: wide ? 'flex-end' : 'stretch',
          }}
        >
          <View style={wide ? { width: 360 } : {}}>
            <Field
              label="An extension or a number of the organisation, in any form"
              keyboard="phone-pad"
              mono
              value={number}
              onChange={setNumber}
              onSubmit={show}
            />
          </View>
          <Button kind="main" label="Show where it leads" disabled={number.trim() === ''} onPress={show} />
        </View>
      </Section>
      <View style={{ flexDirection: wide ? 'row' : 'column', flexWrap: 'wrap' }}>
        {KINDS.map((kind) => (
          <View key={kind.kind} style={wide ? { width: '50%' } : {}}>
            <ObjectList {...kind} />
          </View>
        ))}
      </View>
      <SettingsPart />
    </PageFrame>
  );
}

function ObjectList({ kind, title, empty, add }: Kind) {
  const palette = usePalette();
  const router = useRouter();
  const canEdit = useCanEdit();
  const named = useNamed(kind);
  const [adding, setAdding] = useState(false);
  return (
    <Section
      title={title}
      aside={canEdit ? <Button kind="quiet" icon="add" label={add} onPress={() => setAdding(true)} /> : null}
    >
      {named.isError ? (
        <Trouble message={messageOf(named.error)} retry={() => void named.refetch()} />
      ) : named.isPending ? (
        <Skeleton rows={2} />
      ) : named.data.objects.length === 0 ? (
        <Empty title="None yet" text={empty} />
      ) : (
        <View style={{ borderWidth: 1, borderColor: palette.line }}>
          {named.data.objects.map(({ id, name, extension }) => (
            <LinkRow
              key={id}
              title={name}
              {...(extension ? { text: extension } : {})}
              onPress={() => router.navigate(`${PATHS[kind]}/${encodeURIComponent(id)}`)}
            />
          ))}
        </View>
      )}
      {adding ? <AddSheet kind={kind} title={add} onClose={() => setAdding(false)} /> : null}
    </Section>
  );
}

function AddSheet({ kind, title, onClose }: { kind: RouteKind; title: string; onClose: () => void }) {
  const router = useRouter();
  const add = useAddObject(kind);
  const [name, setName] = useState('');
  const [extension, setExtension] = useState('');
  const permissions = useNamed('permission');
  const permission = permissions.data?.objects[0]?.id ?? '';
  const id = idFrom(name);
  const needsExtension = kind === 'group' || kind === 'menu';
  const ready = id !== '' && (!needsExtension || /^\d+$/.test(extension));
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const fresh = {
    group: {
      id,
      name,
      extension,
      mode: 'in-order',
      members: [],
      ringMs: 15_000,
      permission,
      ending: { kind: 'hang-up', message: '' },
    },
    menu: {
      id,
      name,
      extension,
      permission,
      rules: [
        {
          id: 'always',
          when: {},
          greetingMs: 6000,
          waitMs: 4000,
          choices: [],
          otherwise: { kind: 'hang-up', message: '' },
        },
      ],
    },
    schedule: { id, name, timeZone: zone, weekly: [] },
    status: { id, name },
  }[kind];
  return (
    <Sheet
      title={title}
      open
      onClose={onClose}
      footer={
        <Button
          kind="main"
          grow
          label={title}
          disabled={!ready}
          busy={add.isPending}
          onPress={() =>
            add.mutate(fresh, {
              onSuccess: () => {
                onClose();
                router.navigate(`${PATHS[kind]}/${encodeURIComponent(id)}`);
              },
            })
          }
        />
      }
    >
      {add.isError ? <Trouble message={messageOf(add.error)} /> : null}
      <Field label="Name" value={name} onChange={setName} autoFocus />
      {needsExtension ? (
        <Field
          label="Extension"
          keyboard="phone-pad"
          mono
          value={extension}
          onChange={(text) => setExtension(text.replace(/\D/g, ''))}
        />
      ) : null}
    </Sheet>
  );
}
