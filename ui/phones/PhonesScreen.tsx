import type { LostPhone, PhoneRow, Registration } from '../../api/phones';
import { memo, useDeferredValue, useMemo, useRef, useState } from 'react';
import { FlatList, View, type TextInput as NativeInput } from 'react-native';
import { isNumberKind } from '../../core/estate';
import { messageOf } from '../data/api';
import { usePhones } from '../data/phones';
import { useKey } from '../kit/useKey';
import { clockOf, KIND_WORDS, registrationWords } from './words';
import { Choice, Empty, Skeleton, Trouble } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { PressLink } from '../kit/PressLink';
import { usePageTitle } from '../kit/usePageTitle';
import { Words } from '../kit/Words';
import { rowHeight, space, useIsWide, usePalette } from '../kit/theme';

/** `away`: whichever shared desk somebody signs on to, while they are signed on to none. */
type State = 'registered' | 'asleep' | 'lost' | 'never' | 'away' | 'public';
const STATE_WORDS: Record<State, string> = {
  registered: '▰ registered',
  asleep: '▰ asleep',
  lost: '▱ lost',
  never: '▱ not registered',
  away: 'at no desk',
  public: 'public network',
};
const FILTERS = ['all', 'registered', 'lost', 'never', 'public'] as const;
type Filter = (typeof FILTERS)[number];
const FILTER_WORDS: Record<Filter, string> = {
  all: 'All',
  registered: 'Registered',
  lost: 'Lost',
  never: 'Not registered',
  public: 'Public network',
};

interface Shown extends PhoneRow {
  readonly state: State;
  readonly registrations: readonly Registration[];
  readonly lost: LostPhone | null;
}

const WIDE_ROW = rowHeight(56);
const ROW = rowHeight(80);

const isPublic = (row: PhoneRow) => isNumberKind(row.kind);

function stateOf(row: PhoneRow, registrations: readonly Registration[], lost: LostPhone | null): State {
  if (isPublic(row)) return 'public';
  if (registrations.some(({ asleep }) => !asleep)) return 'registered';
  if (registrations.length > 0) return 'asleep';
  if (row.kind === 'hot-desk') return 'away';
  return lost ? 'lost' : 'never';
}

function textOf(row: Shown): string {
  const { registrations, lost, does } = row;
  const [first] = registrations;
  if (first)
    return registrations.length > 1
      ? `${registrations.length} devices · ${registrationWords(first)}`
      : registrationWords(first);
  if (row.state === 'away') return 'signed on at no shared desk';
  if (lost) return `since ${clockOf(lost.lostMs)}: ${lost.detail}`;
  return does === 'off' ? 'its stand-in is switched off' : does === 'bare' ? 'waits for provisioning' : '';
}

const Row = memo(function Row({ row }: { row: Shown }) {
  const palette = usePalette();
  const wide = useIsWide();
  const bad = row.state === 'lost' || (row.state === 'never' && row.does !== 'off' && row.does !== 'bare');
  const state = (
    <Words
      size="small"
      strong
      tone={bad ? 'rust' : ['public', 'never', 'away'].includes(row.state) ? 'soft' : 'kelp'}
    >
      {STATE_WORDS[row.state]}
    </Words>
  );
  const text = textOf(row);
  return (
    <PressLink
      href={`/phones/${encodeURIComponent(row.endpoint)}`}
      label={`${row.name}: ${row.label}, ${STATE_WORDS[row.state].replace(/^\W+/, '')}`}
      style={({ pressed }) => ({
        height: wide ? WIDE_ROW : ROW,
        paddingHorizontal: space(4),
        justifyContent: wide ? 'flex-start' : 'center',
        borderBottomWidth: 1,
        borderColor: palette.line,
        backgroundColor: pressed ? palette.tint : palette.sheet,
        flexDirection: wide ? 'row' : 'column',
        alignItems: wide ? 'center' : 'stretch',
        gap: wide ? space(4) : 2,
      })}
    >
      <View style={{ flex: wide ? 3 : undefined, flexDirection: 'row', gap: space(2) }}>
        <Words strong lines={1} style={{ flexShrink: 1 }}>
          {row.name}
        </Words>
        <Words lines={1} tone="soft" style={{ flexShrink: 2 }}>
          {row.label}
        </Words>
        {wide ? null : <View style={{ marginLeft: 'auto' }}>{state}</View>}
      </View>
      {wide ? <View style={{ width: 140 }}>{state}</View> : null}
      <View style={{ flex: wide ? 5 : undefined }}>
        <Words size="small" tone="soft" mono lines={wide ? 1 : 2}>
          {text || (wide ? KIND_WORDS[row.kind] : ' ')}
        </Words>
      </View>
    </PressLink>
  );
});

/** Every phone, softphone and shared desk: who is registered from where, and which are missing. */
export function PhonesScreen() {
  usePageTitle('Phones');
  const palette = usePalette();
  const wide = useIsWide();
  const phones = usePhones();
  const [query, setQuery] = useState('');
  const [filter, setFilter] = useState<Filter>('all');
  const wanted = useDeferredValue(query.trim().toLowerCase());
  const search = useRef<NativeInput>(null);
  useKey('/', () => search.current?.focus());
  const rows = useMemo(() => {
    const by = new Map<string, Registration[]>();
    for (const each of phones.data?.registrations ?? [])
      if (each.endpoint !== null) by.set(each.endpoint, [...(by.get(each.endpoint) ?? []), each]);
    const lost = new Map((phones.data?.lost ?? []).map((each) => [each.endpoint, each]));
    return (phones.data?.phones ?? []).map((row): Shown => {
      const registrations = by.get(row.endpoint) ?? [];
      const gone = lost.get(row.endpoint) ?? null;
      return { ...row, registrations, lost: gone, state: stateOf(row, registrations, gone) };
    });
  }, [phones.data]);
  const shown = useMemo(() => {
    const order: Record<State, number> = { lost: 0, never: 1, asleep: 2, registered: 2, away: 3, public: 3 };
    return rows
      .filter(
        (row) =>
          (filter === 'all' || (filter === 'registered' && row.state === 'asleep') || row.state === filter) &&
          (wanted === '' ||
            [
              row.name,
              row.label,
              row.extension ?? '',
              row.endpoint,
              ...row.registrations.map(({ from }) => from.host),
            ]
              .join(' ')
              .toLowerCase()
              .includes(wanted)),
      )
      .sort((a, b) => order[a.state] - order[b.state]);
  }, [rows, filter, wanted]);
  if (phones.isError)
    return <Trouble message={messageOf(phones.error)} retry={() => void phones.refetch()} />;
  if (phones.isPending) return <Skeleton />;
  const { place } = phones.data;
  const row = wide ? WIDE_ROW : ROW;
  const count = (state: Filter) =>
    state === 'all'
      ? rows.length
      : rows.filter((row) => row.state === state || (state === 'registered' && row.state === 'asleep'))
          .length;
  return (
    <View style={{ flex: 1 }}>
      <View style={{ padding: space(4), paddingBottom: space(2), gap: space(3) }}>
        <View>
          <View
            style={{
              flexDirection: wide ? 'row' : 'column',
              alignItems: wide ? 'center' : 'stretch',
              justifyContent: 'space-between',
            }}
          >
            <Words size="page" strong heading={1}>
              Phones
            </Words>
          </View>
          <Words size="small" tone={place ? 'soft' : 'rust'}>
            {place
              ? `The stand-in phone system is at ${place.address}, UDP and TCP ${place.udp}, TLS ${place.tls}.`
              : 'The stand-in phone system is not running. It starts within seconds of the server.'}
          </Words>
        </View>
        <SearchField
          ref={search}
          label="Search phones"
          placeholder="Name, phone, extension or address"
          value={query}
          onChange={setQuery}
        />
        <Choice
          label="Show"
          value={filter}
          options={FILTERS.map((value) => ({ value, label: `${FILTER_WORDS[value]} ${count(value)}` }))}
          onChange={setFilter}
        />
      </View>
      <FlatList
        data={shown}
        keyExtractor={(row) => row.endpoint}
        renderItem={({ item }) => <Row row={item} />}
        getItemLayout={(_, at) => ({ length: row, offset: row * at, index: at })}
        initialNumToRender={14}
        style={{ borderTopWidth: 1, borderColor: palette.line }}
        ListEmptyComponent={
          <Empty
            title={filter === 'lost' ? 'No phone is lost' : 'No phone fits'}
            text={
              filter === 'lost'
                ? 'Every phone that was registered still is.'
                : 'Clear the search or choose another state to see more.'
            }
          />
        }
      />
    </View>
  );
}
