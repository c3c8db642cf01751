import type { Registration } from '../../api/phones';
import { memo, useDeferredValue, useMemo, useRef, useState } from 'react';
import { FlatList, View, type TextInput as NativeInput } from 'react-native';
import { messageOf } from '../data/api';
import { usePhones } from '../data/phones';
import { useKey } from '../kit/useKey';
import { PhonesTable } from './PhonesTable';
import { isBad, sayState, STATE_WORDS, stateOf, textOf, type Shown, type State } from './shown';
import { Choice, Empty, Skeleton, Trouble } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { PressLink } from '../kit/PressLink';
import { usePageTitle } from '../kit/usePageTitle';
import { Words } from '../kit/Words';
import { rowHeight, space, useIsWide, usePalette } from '../kit/theme';
import { Ask } from '../kit/Term';

const FILTERS = ['all', 'registered', 'lost', 'never', 'public'] as const;
type Filter = (typeof FILTERS)[number];
const FILTER_WORDS: Record<Filter, string> = {
  all: 'All',
  registered: 'Registered',
  lost: 'Lost',
  never: 'Not registered',
  public: 'Public network',
};

const ROW = rowHeight(80);

const Row = memo(function Row({ row }: { row: Shown }) {
  const palette = usePalette();
  const state = (
    <Words
      size="small"
      strong
      tone={isBad(row) ? 'rust' : ['public', 'never', 'away'].includes(row.state) ? 'soft' : 'kelp'}
    >
      {STATE_WORDS[row.state]}
    </Words>
  );
  const text = textOf(row);
  return (
    <PressLink
      href={`/phones/${encodeURIComponent(row.endpoint)}`}
      label={`${row.name}: ${row.label}, ${sayState(row)}`}
      style={({ pressed }) => ({
        height: ROW,
        paddingHorizontal: space(4),
        justifyContent: 'center',
        borderBottomWidth: 1,
        borderColor: palette.line,
        backgroundColor: pressed ? palette.tint : palette.sheet,
        gap: 2,
      })}
    >
      <View style={{ flexDirection: 'row', gap: space(2) }}>
        <Words strong lines={1} style={{ flexShrink: 1 }}>
          {row.name}
        </Words>
        <Words lines={1} tone="soft" style={{ flexShrink: 2 }}>
          {row.label}
        </Words>
        <View style={{ marginLeft: 'auto' }}>{state}</View>
      </View>
      <Words size="small" tone="soft" mono lines={2}>
        {text || ' '}
      </Words>
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
  const count = (state: Filter) =>
    state === 'all'
      ? rows.length
      : rows.filter((row) => row.state === state || (state === 'registered' && row.state === 'asleep'))
          .length;
  const states = (
    <Choice
      label="Show"
      value={filter}
      options={FILTERS.map((value) => ({ value, label: `${FILTER_WORDS[value]} ${count(value)}` }))}
      onChange={setFilter}
    />
  );
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
            <View style={{ flexDirection: 'row', alignItems: 'center' }}>
              <Words size="page" strong heading={1}>
                Phones
              </Words>
              <Ask term="registration" />
            </View>
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
        {wide && shown.length > 0 ? null : states}
      </View>
      {wide && shown.length > 0 ? (
        <PhonesTable rows={shown} bar={<View style={{ flex: 1 }}>{states}</View>} />
      ) : (
        <FlatList
          data={shown}
          keyExtractor={(row) => row.endpoint}
          renderItem={({ item }) => <Row row={item} />}
          getItemLayout={(_, at) => ({ length: ROW, offset: ROW * at, index: at })}
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
      )}
    </View>
  );
}
