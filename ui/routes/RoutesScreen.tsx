import type { ObjectKind } from '../../api/objects';
import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { showNumber } from '../../core/calls/dialling';
import { emptyEstate } from '../../core/editing';
import { namesIn } from '../../core/routes';
import { messageOf } from '../data/api';
import { idFrom, useAddObject } from '../data/objects';
import { bodyOf, useAnalysis, useDialling, useRouting } from '../data/routing';
import { useCanEdit, useZone } from '../data/session';
import { space, useIsWide, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { useNamed } from '../edit/Search';
import { typedNumber } from '../edit/typedNumber';
import { Button, Empty, Field, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { PageFrame } from '../kit/PageFrame';
import { SettingsPart } from './SettingsPart';
import { WayPart } from './WayPart';
import { Sheet } from '../kit/Sheet';

/** What calls pass through on their way; templates stand with the people. */
type RouteKind = Exclude<
  ObjectKind,
  'template' | 'permission' | 'trunk' | 'site' | 'device' | 'server' | 'desk'
>;

const PATHS: Record<RouteKind, string> = {
  group: '/groups',
  seat: '/seats',
  menu: '/menus',
  schedule: '/hours',
  status: '/statuses',
  access: '/access',
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
  {
    kind: 'seat',
    title: 'Seats',
    empty: 'A seat takes calls of a group at whichever phone somebody has today.',
    add: 'Add a seat',
  },
  { kind: 'schedule', title: 'Hours', empty: 'Hours say when rules and phones count.', add: 'Add hours' },
  {
    kind: 'status',
    title: 'Statuses',
    empty: 'A status is what people set on themselves.',
    add: 'Add a status',
  },
  {
    kind: 'access',
    title: 'Numbers that staff ring',
    empty: 'Staff ring an access number from a mobile to call on from there, as from their desk.',
    add: 'Add an access number',
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
      <OutwardPart />
      <SettingsPart />
    </PageFrame>
  );
}

/** Some kinds of objects that calls pass, each as a list to which can be added. */
function ListsOf({ title, kinds }: { readonly title: string; readonly kinds: readonly RouteKind[] }) {
  const wide = useIsWide();
  return (
    <PageFrame title={title} back={null}>
      <View
        style={{
          flexDirection: wide ? 'row' : 'column',
          flexWrap: wide ? 'wrap' : 'nowrap',
          alignItems: 'flex-start',
        }}
      >
        {KINDS.filter(({ kind }) => kinds.includes(kind)).map((kind) => (
          <View key={kind.kind} style={wide ? { width: '50%' } : { width: '100%' }}>
            <ObjectList {...kind} />
          </View>
        ))}
      </View>
    </PageFrame>
  );
}

export const GroupsAndMenusScreen = () => (
  <ListsOf title="Groups and menus" kinds={['group', 'menu', 'seat']} />
);
export const HoursAndStatusesScreen = () => (
  <ListsOf title="Hours and statuses" kinds={['schedule', 'status']} />
);

export const AccessNumbersScreen = () => <ListsOf title="Access numbers" kinds={['access']} />;

/** Calls out: the bench, and the ways to the dial plan, the route table and the guard. */
function OutwardPart() {
  const routing = useRouting();
  const dialling = useDialling();
  const schedules = useNamed('schedule');
  const analysis = useAnalysis(undefined, routing.data?.lists ?? []);
  if (dialling.isError)
    return <Trouble message={messageOf(dialling.error)} retry={() => void dialling.refetch()} />;
  if (dialling.isPending || routing.isPending) return <Skeleton rows={3} />;
  const { permissions, trunks, ambiguities, guard } = dialling.data;
  const table = routing.data ? bodyOf(routing.data.object) : null;
  const names = namesIn(table ?? { peers: [] }, routing.data?.lists ?? [], schedules.data?.objects ?? []);
  const wrong = analysis.data?.findings.filter(({ weight }) => weight !== 'note').length;
  const say = (n: number, what: string) => (n === 1 ? `one ${what}` : `${n} ${what}s`);
  return (
    <>
      <WayPart table={table} names={names} dialling={dialling.data} />
      <Section title="Calls out">
        <LinkRows>
          <LinkRow
            title="Route table"
            text={`${say(table?.routes.length ?? 0, 'route')} between ${say(table?.peers.length ?? 0, 'system')}${wrong === undefined ? '' : wrong === 0 ? ', nothing wrong' : `, ${say(wrong, 'finding')} to look at`}`}
            href="/routes/table"
          />
          <LinkRow
            title="Dialling"
            text={`Dial plan${ambiguities.length > 0 ? ` with ${say(ambiguities.length, 'contradiction')}` : ''}, ${say(permissions.length, 'permission')}, ${say(trunks.length, 'trunk')}, codes`}
            href="/routes/dialling"
          />
          <LinkRow
            title="Access numbers"
            text="Rung from a mobile, to call on from there with the work number"
            href="/access"
          />
          <LinkRow
            title="Fraud protection"
            text={`Premium numbers${guard.prefixes.length > 0 ? ` and ${say(guard.prefixes.length, 'beginning')} watched` : ' watched'}: who and what can reach them`}
            href="/routes/guard"
          />
          <LinkRow
            title="Compare with a phone system"
            text="A table exported from it, held against what is set here"
            href="/compare"
          />
        </LinkRows>
      </Section>
    </>
  );
}

function ObjectList({ kind, title, empty, add }: Kind) {
  const palette = usePalette();
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
          {named.data.objects.map(({ id, name, extension, number }) => (
            <LinkRow
              key={id}
              title={name}
              {...(extension ? { text: extension } : number ? { text: showNumber(number) } : {})}
              href={`${PATHS[kind]}/${encodeURIComponent(id)}`}
            />
          ))}
        </View>
      )}
      {adding ? <AddSheet kind={kind} title={add} onClose={() => setAdding(false)} /> : null}
    </Section>
  );
}

const NO_DIALLING = emptyEstate().dialling;

function AddSheet({ kind, title, onClose }: { kind: RouteKind; title: string; onClose: () => void }) {
  const router = useRouter();
  const add = useAddObject(kind);
  const [name, setName] = useState('');
  const [extension, setExtension] = useState('');
  const permissions = useNamed('permission');
  const permission = permissions.data?.objects[0]?.id ?? '';
  const id = idFrom(name);
  // What it dials with: not known while it is on its way.
  const dials = kind === 'group' || kind === 'menu';
  const needsExtension = dials || kind === 'seat';
  const [typed, setTyped] = useState('');
  const { e164: number, error, shown } = typedNumber(typed, useDialling().data?.dialling ?? NO_DIALLING);
  const ready =
    id !== '' &&
    (!needsExtension || /^\d+$/.test(extension)) &&
    (kind !== 'access' || number !== null) &&
    (!dials || permission !== '');
  const zone = useZone();
  const fresh = {
    group: {
      id,
      name,
      extension,
      mode: 'linear',
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
    seat: { id, name, extension },
    schedule: { id, name, timeZone: zone, weekly: [] },
    status: { id, name },
    access: { id, name, number: number ?? '' },
  }[kind];
  return (
    <Sheet
      title={title}
      open
      onClose={onClose}
      action={{
        label: title,
        disabled: !ready,
        busy: add.isPending,
        onPress: () =>
          add.mutate(fresh, {
            onSuccess: () => {
              onClose();
              router.navigate(`${PATHS[kind]}/${encodeURIComponent(id)}`);
            },
          }),
      }}
    >
      {add.isError ? <Trouble message={messageOf(add.error)} /> : null}
      {dials && permissions.isError ? (
        <Trouble message={messageOf(permissions.error)} retry={() => void permissions.refetch()} />
      ) : dials && permissions.data?.objects.length === 0 ? (
        <Words tone="rust">There is no permission to dial with yet: add one under Dialling.</Words>
      ) : null}
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
      {kind === 'access' ? (
        <Field
          label="Number that is rung, in any form"
          keyboard="phone-pad"
          mono
          value={typed}
          onChange={setTyped}
          error={error}
          hint={shown}
        />
      ) : null}
    </Sheet>
  );
}
