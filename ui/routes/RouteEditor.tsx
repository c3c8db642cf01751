import type { ListHead, TableBody } from '../../api/routing';
import { View } from 'react-native';
import type { Fault, Schedule, Route, RouteThen, RouteWhen } from '../../core/estate';
import { readDigitMap, sayRoute, type RouteNames } from '../../core/routes';

import { space } from '../kit/theme';
import { Button, Choice, Field, Tick } from '../kit/parts';
import { scheduleOf, scheduleOptions, scheduleValue } from '../edit/scheduleChoice';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { SeveralField } from '../kit/SeveralField';
import { PeerTicks } from './PeerTicks';
import { ThenFields } from './ThenFields';
import { without } from './without';
import { Ask } from '../kit/Term';

const KINDS = [
  { value: 'send', label: 'Go to a system' },
  { value: 'fork', label: 'Ring at several' },
  { value: 'rewrite', label: 'Rewritten, go on' },
  { value: 'refuse', label: 'Refused' },
] as const;
type Kind = (typeof KINDS)[number]['value'];
const kindOf = (then: RouteThen): Kind =>
  'send' in then ? 'send' : 'fork' in then ? 'fork' : 'rewrite' in then ? 'rewrite' : 'refuse';

/** What of a typed text can stand in a dialled string. */
const asDialled = (text: string) => text.toUpperCase().replace(/[^0-9*#A-D+]/g, '');

/** A route's conditions and what it does, with the sentence that it makes. */
export function RouteEditor({
  route,
  table,
  lists,
  schedules,
  names,
  faults,
  onChange,
  onRemove,
  onClose,
}: {
  readonly route: Route;
  readonly table: TableBody;
  readonly lists: readonly ListHead[];
  readonly schedules: readonly Schedule[];
  readonly names: RouteNames;
  /** Faults of this route, with paths that begin in it. */
  readonly faults: readonly Fault[];
  readonly onChange: (route: Route) => void;
  readonly onRemove: () => void;
  readonly onClose: () => void;
}) {
  const { when, then } = route;
  const setWhen = (next: RouteWhen) => onChange({ ...route, when: next });
  const first = table.peers[0]?.id ?? '';
  const change = (kind: Kind) => {
    const peer =
      'send' in then ? then.send.peer : 'fork' in then ? (then.fork.branches[0]?.peer ?? first) : first;
    const next: Record<Kind, RouteThen> = {
      send: { send: { peer } },
      fork: {
        fork: {
          branches: [
            { peer },
            { peer: table.peers.find(({ id }) => id !== peer)?.id ?? peer, delayMs: 3000 },
          ],
        },
      },
      rewrite: { rewrite: { rewrite: { drop: 0, prepend: '' } } },
      refuse: { refuse: { cause: 403 } },
    };
    onChange({ ...route, then: next[kind] });
  };
  return (
    <Sheet title="Route" open onClose={onClose} action={{ label: 'Done', onPress: onClose }}>
      <Words strong live>
        {sayRoute(route, names)}
      </Words>
      {faults.map(({ path, message }) => (
        <Words key={path} tone="rust" size="small" live>
          {`${path}: ${message}`}
        </Words>
      ))}
      <Field
        label="Name"
        value={route.name}
        onChange={(name) => onChange({ ...route, name })}
        error={route.name.trim() === '' ? 'A route needs a name' : null}
      />
      <Words size="lead" strong heading={3}>
        Which calls
      </Words>
      <PeerTicks
        title="From, none ticked: any system"
        peers={table.peers}
        ticked={when.from}
        onChange={(from) => setWhen(from ? { ...when, from } : without(when, 'from'))}
      />
      <DialledFields when={when} onChange={setWhen} />
      <ListFields when={when} lists={lists} onChange={setWhen} />
      {schedules.length > 0 ? (
        <View style={{ gap: space(2) }}>
          <Choice
            titled
            label="When"
            value={scheduleValue(when.schedule)}
            options={scheduleOptions(schedules)}
            onChange={(value) => {
              const schedule = scheduleOf(value);
              setWhen(schedule ? { ...when, schedule } : without(when, 'schedule'));
            }}
          />
        </View>
      ) : null}
      <Words size="lead" strong heading={3}>
        What becomes of them
      </Words>
      <Choice label="What becomes of them" value={kindOf(then)} options={KINDS} onChange={change} />
      <ThenFields
        then={then}
        table={table}
        example={when.dialled?.prefixes?.[0] ?? ''}
        onChange={(next) => onChange({ ...route, then: next })}
      />
      <Tick
        label="Switched on"
        on={route.enabled}
        onPress={() => onChange({ ...route, enabled: !route.enabled })}
      />
      <Button kind="quiet" label="Remove this route" onPress={onRemove} />
    </Sheet>
  );
}

function DialledFields({ when, onChange }: { when: RouteWhen; onChange: (when: RouteWhen) => void }) {
  const { prefixes, map = '', minDigits, maxDigits } = when.dialled ?? {};
  const set = (
    patch: NonNullable<RouteWhen['dialled']>,
    ...off: (keyof NonNullable<RouteWhen['dialled']>)[]
  ) => {
    const dialled = without({ ...when.dialled, ...patch }, ...off);
    onChange(Object.keys(dialled).length > 0 ? { ...when, dialled } : without(when, 'dialled'));
  };
  const read = map === '' ? null : readDigitMap(map);
  const digits = (label: string, field: 'minDigits' | 'maxDigits', value: number | undefined) => (
    <View style={{ flex: 1 }}>
      <Field
        label={label}
        keyboard="decimal-pad"
        mono
        value={value === undefined ? '' : String(value)}
        onChange={(text) => {
          const bare = text.replace(/\D/g, '');
          if (bare === '') set({}, field);
          else set({ [field]: Math.min(40, Number(bare)) });
        }}
      />
    </View>
  );
  return (
    <View style={{ gap: space(3) }}>
      <SeveralField
        label="Numbers that begin with"
        values={prefixes ?? []}
        clean={asDialled}
        hint="Several with commas between them; empty: any number"
        onChange={(all) => (all?.length ? set({ prefixes: all }) : set({}, 'prefixes'))}
      />
      <Field
        label="Numbers that fit a digit map"
        beside={<Ask term="digit-map" />}
        mono
        value={map}
        onChange={(text) => (text.trim() === '' ? set({}, 'map') : set({ map: text.trim() }))}
        error={read && !read.ok ? `At ${read.faults[0]?.at ?? 1}: ${read.faults[0]?.message ?? ''}` : null}
        hint="x any digit, [2-9] one of several, . any number of the one before, (a|b) one or the other"
      />
      <View style={{ flexDirection: 'row', gap: space(2) }}>
        {digits('Digits at least', 'minDigits', minDigits)}
        {digits('Digits at most', 'maxDigits', maxDigits)}
      </View>
      <SeveralField
        label="Callers that begin with"
        values={when.caller?.prefixes ?? []}
        clean={asDialled}
        hint={null}
        onChange={(all) =>
          onChange(all?.length ? { ...when, caller: { prefixes: all } } : without(when, 'caller'))
        }
      />
    </View>
  );
}

function ListFields({
  when,
  lists,
  onChange,
}: {
  when: RouteWhen;
  lists: readonly ListHead[];
  onChange: (when: RouteWhen) => void;
}) {
  if (lists.length === 0) return null;
  const value = when.list ? `${when.list.of}:${when.list.id}` : 'none';
  return (
    <View style={{ gap: space(2) }}>
      <Choice
        titled
        label="On a list"
        value={value}
        options={[
          { value: 'none', label: 'No list' },
          ...lists.map(({ id, name }) => ({ value: `dialled:${id}`, label: `Number on ${name}` })),
          ...lists.map(({ id, name }) => ({ value: `caller:${id}`, label: `Caller on ${name}` })),
        ]}
        onChange={(next) => {
          if (next === 'none') onChange(without(when, 'list'));
          else {
            const [of, ...id] = next.split(':');
            onChange({ ...when, list: { id: id.join(':'), of: of === 'caller' ? 'caller' : 'dialled' } });
          }
        }}
      />
    </View>
  );
}
