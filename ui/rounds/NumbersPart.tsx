import { useDeferredValue, useState } from 'react';
import { View } from 'react-native';
import type { RoundNumber, RoundPage } from '../../api/rounds';
import { showNumber } from '../../core/calls/dialling';
import { capital } from '../../core/estate';
import { sayNumberState, type NumberState } from '../../core/rounds';
import { messageOf } from '../data/api';
import { fetchFile } from '../data/files';
import { roundReportPath, useRoundNumbers } from '../data/rounds';
import { useCanEdit, useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { Button, Choice, Empty, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { inOrder } from './words';

type Which = NumberState | 'all';

/** What became of each number of the list. */
export function NumbersPart({ page, isLive }: { readonly page: RoundPage; readonly isLive: boolean }) {
  const [which, setWhich] = useState<Which>('all');
  const [text, setText] = useState('');
  const search = useDeferredValue(text);
  const canEdit = useCanEdit();
  const [trouble, setTrouble] = useState<unknown>(null);
  const found = useRoundNumbers(page.id, which === 'all' ? null : which, search, isLive);
  if (page.total === 0) return null;
  const report = () => {
    setTrouble(null);
    fetchFile(roundReportPath(page.id), `${page.name}.csv`).catch(setTrouble);
  };
  const rows = found.data?.pages.flatMap(({ numbers }) => numbers) ?? [];
  return (
    <Section
      title="Numbers"
      aside={canEdit ? <Button kind="quiet" label="Export as CSV" onPress={report} /> : null}
    >
      <Refused error={trouble} />
      <Choice
        label="Which numbers"
        value={which}
        options={[
          { value: 'all' as Which, label: `All (${page.total})` },
          ...inOrder(page.counts).map(([state, count]) => ({
            value: state as Which,
            label: `${capital(sayNumberState(state))} (${count})`,
          })),
        ]}
        onChange={setWhich}
      />
      <SearchField label="Search numbers" placeholder="Name or number" value={text} onChange={setText} />
      {found.isError ? (
        <Trouble message={messageOf(found.error)} retry={() => void found.refetch()} />
      ) : found.isPending ? (
        <Skeleton rows={4} />
      ) : rows.length === 0 ? (
        <Empty title="None" text="No number of the list is so now." />
      ) : (
        <View role="list">
          {rows.map((row) => (
            <NumberRow key={row.line} row={row} />
          ))}
        </View>
      )}
      {found.hasNextPage ? (
        <Button
          label="Show more"
          busy={found.isFetchingNextPage}
          onPress={() => void found.fetchNextPage()}
        />
      ) : null}
    </Section>
  );
}

function NumberRow({ row }: { readonly row: RoundNumber }) {
  const palette = usePalette();
  const zone = useZone();
  const detail = [
    row.why,
    row.calledAt ? `called ${sayWhen(row.calledAt, zone)}` : '',
    row.tries > 1 ? `${row.tries} times` : '',
    row.againAt ? `again from ${sayWhen(row.againAt, zone)}` : '',
  ].filter(Boolean);
  return (
    <View
      role="listitem"
      style={{
        flexDirection: 'row',
        flexWrap: 'wrap',
        justifyContent: 'space-between',
        columnGap: space(3),
        paddingVertical: space(2),
        borderBottomWidth: 1,
        borderColor: palette.line,
      }}
    >
      <View style={{ flexShrink: 1 }}>
        <Words>{row.name || `Line ${row.line}`}</Words>
        <Words mono size="small" tone="soft">
          {row.number === null ? row.shown : showNumber(row.number)}
        </Words>
      </View>
      <View style={{ flexShrink: 1 }}>
        <Words strong>{capital(sayNumberState(row.state))}</Words>
        {detail.length > 0 ? (
          <Words size="small" tone="soft">
            {detail.join(', ')}
          </Words>
        ) : null}
      </View>
    </View>
  );
}
