import type { PeopleList as List, PersonSummary } from '../../api/people';
import { memo, useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import {
  FlatList,
  Pressable,
  ScrollView,
  StyleSheet,
  useWindowDimensions,
  View,
  type TextInput as NativeInput,
} from 'react-native';
import { useRouter } from 'expo-router';
import { andList } from '../../core/estate';
import { findTerms } from '../../core/glossary';
import { AddPerson } from './AddPerson';
import { PeopleTable } from './PeopleTable';
import type { ReachState } from '../../core/calls/views';
import { messageOf } from '../data/api';
import { stillComing, usePeople, usePeopleFound } from '../data/people';
import { usePeopleSearch } from '../data/peopleSearch';
import { useKey } from '../kit/useKey';
import { useCanEdit } from '../data/session';
import { CORNER, rowHeight, space, TARGET, useIsWide, usePalette } from '../kit/theme';
import { Button, Empty, ReachMark, Skeleton, Trouble } from '../kit/parts';
import { PressLink } from '../kit/PressLink';
import { SearchField } from '../kit/SearchField';
import { Words } from '../kit/Words';

const ROW = rowHeight(64);
const SHORT = 560;
/** Named here, so that the list does not fetch the engine. */
const REACH_STATES: readonly ReachState[] = ['reached', 'at-risk', 'lost'];

/** How many are shown; of a long list that is still coming, how many are here. */
function countWords(shown: number, fitting: number, list: List): string {
  const { here, count } = stillComing(list) ?? { here: list.count, count: list.count };
  if (here < count && fitting === count) return `${here} of ${count} people, the rest is coming`;
  const some = fitting === count ? `${count} people` : `${fitting} of ${count} people`;
  return shown < fitting ? `${some}, the first ${shown} shown` : some;
}

/** Everybody: found by name, extension or any form of a number, by status and by how they can be reached. */
export function PeopleList({
  selected,
  asTable = false,
}: {
  readonly selected?: string | undefined;
  /** With all the width there is. */
  readonly asTable?: boolean;
}) {
  const router = useRouter();
  const canEdit = useCanEdit();
  const wide = useIsWide();
  // On its side a phone has no room for a head that stays: it scrolls away with the list.
  const isShort = useWindowDimensions().height < SHORT;
  const people = usePeople();
  const { query, status, reach, set } = usePeopleSearch();
  const [adding, setAdding] = useState(false);
  const [early, setEarly] = useState<string | null>(null);
  const search = useRef<NativeInput>(null);
  useKey('/', () => search.current?.focus());
  const wanted = useDeferredValue(query);
  const all = people.data?.people;
  const { people: shown, count: fitting, isLooking } = usePeopleFound({ query: wanted, status, reach });
  const coming = stillComing(people.data);
  const terms = shown.length === 0 && query.trim().length > 2 ? findTerms(query) : [];
  const statusNames = useMemo(
    () => new Map(people.data?.statuses.map((s) => [s.id, s.name])),
    [people.data?.statuses],
  );
  const open = useCallback((id: string) => router.navigate(`/people/${encodeURIComponent(id)}`), [router]);
  // What was typed last may not be looked for yet, and the list may still come: the first that fits is opened once it
  // is known.
  useEffect(() => {
    if (early === null || !all || isLooking || (early === query && early !== wanted)) return;
    setEarly(null);
    const [first] = early === query ? shown : [];
    if (!first) return;
    // The keyboard goes on to the person's page.
    search.current?.blur();
    open(first.id);
  }, [early, all, query, wanted, isLooking, shown, open]);

  if (people.isError)
    return <Trouble message={messageOf(people.error)} retry={() => void people.refetch()} />;
  const hasRows = !people.isPending && shown.length > 0;
  const counted = (
    <Words
      size="small"
      tone="soft"
      live
      style={{ flexShrink: 0 }}
      {...(wide && !asTable ? {} : { heading: 1 as const })}
    >
      {people.data ? countWords(shown.length, fitting, people.data) : ' '}
    </Words>
  );
  const templates = <Button kind="quiet" label="Templates" onPress={() => router.navigate('/templates')} />;
  const actions = canEdit ? (
    <>
      <Button grow={!asTable} icon="add" label="Add person" onPress={() => setAdding(true)} />
      <Button grow={!asTable} icon="import" label="Import staff" onPress={() => router.navigate('/import')} />
    </>
  ) : null;
  const head = (
    <View style={{ padding: space(3), paddingBottom: space(2), gap: space(2) }}>
      <SearchField
        ref={search}
        label="Search people"
        placeholder="Name, extension or number"
        value={query}
        onChange={(text) => set({ query: text })}
        onSubmit={() => setEarly(query)}
      />
      <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerStyle={{ gap: space(2) }}>
        {REACH_STATES.map((state) => (
          <Filter
            key={state}
            on={reach === state}
            onPress={() => set({ reach: reach === state ? null : state })}
          >
            <ReachMark state={state} />
          </Filter>
        ))}
        {people.data?.statuses.map((s) => (
          <Filter
            key={s.id}
            on={status === s.id}
            onPress={() => set({ status: status === s.id ? null : s.id })}
          >
            <Words size="small">{s.name}</Words>
          </Filter>
        ))}
      </ScrollView>
      {asTable && hasRows ? null : (
        <>
          <View style={{ flexDirection: 'row', justifyContent: 'space-between', alignItems: 'center' }}>
            {counted}
            {templates}
          </View>
          {actions ? <View style={styles.actions}>{actions}</View> : null}
        </>
      )}
    </View>
  );
  return (
    <View style={{ flex: 1 }}>
      {adding ? <AddPerson onClose={() => setAdding(false)} /> : null}
      {isShort && hasRows ? null : head}
      {people.isPending ? (
        <Skeleton rows={8} />
      ) : shown.length === 0 ? (
        all?.length === 0 ? (
          <Empty
            title="Nobody is here yet"
            text="Add somebody by hand, or import your staff from a CSV file: name and extension are enough to begin."
            action={
              canEdit ? (
                <Button kind="main" label="Import staff" onPress={() => router.navigate('/import')} />
              ) : null
            }
          />
        ) : coming && isLooking ? (
          <Skeleton rows={8} />
        ) : (
          <Empty
            title="Nobody fits"
            text={
              terms.length > 0
                ? `It is a term, though: ${andList(terms.slice(0, 3).map(({ term }) => term))}.`
                : 'Search by any part of a name, by extension, or by a number in any form.'
            }
            action={
              terms.length > 0 ? (
                <Button
                  kind="main"
                  label="Show in the glossary"
                  onPress={() => router.navigate(`/glossary?find=${encodeURIComponent(query.trim())}`)}
                />
              ) : (
                <Button
                  label="Show everybody"
                  onPress={() => set({ query: '', status: null, reach: null })}
                />
              )
            }
          />
        )
      ) : asTable && people.data ? (
        <PeopleTable
          rows={shown}
          list={people.data}
          bar={
            <>
              {actions}
              <View style={{ flex: 1, paddingLeft: space(2) }}>{counted}</View>
              {templates}
            </>
          }
        />
      ) : (
        <FlatList
          data={shown}
          {...(isShort ? { ListHeaderComponent: head } : {})}
          keyExtractor={(person) => person.id}
          getItemLayout={(_data, index) => ({ length: ROW, offset: ROW * index, index })}
          initialNumToRender={12}
          windowSize={3}
          maxToRenderPerBatch={12}
          renderItem={({ item }) => (
            <Row
              person={item}
              status={statusNames.get(item.status) ?? item.status}
              selected={item.id === selected}
            />
          )}
        />
      )}
    </View>
  );
}

function Filter({
  on,
  onPress,
  children,
}: {
  readonly on: boolean;
  readonly onPress: () => void;
  readonly children: React.ReactNode;
}) {
  const palette = usePalette();
  return (
    <Pressable
      role="checkbox"
      aria-checked={on}
      onPress={onPress}
      style={{
        minHeight: TARGET,
        paddingHorizontal: space(3),
        justifyContent: 'center',
        borderRadius: CORNER,
        borderWidth: on ? 2 : 1,
        borderColor: on ? palette.accent : palette.line,
        backgroundColor: palette.sheet,
      }}
    >
      {children}
    </Pressable>
  );
}

const Row = memo(function Row({
  person,
  status,
  selected,
}: {
  person: PersonSummary;
  status: string;
  selected: boolean;
}) {
  const palette = usePalette();
  return (
    <PressLink
      href={`/people/${encodeURIComponent(person.id)}`}
      current={selected}
      style={({ pressed }) => [
        styles.row,
        {
          borderBottomColor: palette.line,
          borderLeftColor: selected ? palette.accent : 'transparent',
          backgroundColor: selected || pressed ? palette.tint : palette.sheet,
        },
      ]}
    >
      <View style={styles.top}>
        <Words strong lines={1} style={styles.name}>
          {person.name}
        </Words>
        <ReachMark state={person.reach} />
      </View>
      <View style={styles.below}>
        <Words mono size="small" tone="soft">
          {person.extension}
        </Words>
        <Words size="small" tone="soft">
          {status}
        </Words>
      </View>
    </PressLink>
  );
});

const styles = StyleSheet.create({
  row: {
    height: ROW,
    paddingHorizontal: space(4),
    justifyContent: 'center',
    gap: 2,
    borderBottomWidth: 1,
    borderLeftWidth: 4,
  },
  top: { flexDirection: 'row', justifyContent: 'space-between', gap: space(2) },
  name: { flexShrink: 1 },
  actions: { flexDirection: 'row', gap: space(2) },
  below: { flexDirection: 'row', flexWrap: 'wrap', gap: space(2), flexShrink: 1 },
});
