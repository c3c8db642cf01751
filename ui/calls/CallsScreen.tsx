import { useDeferredValue, useState } from 'react';
import { View } from 'react-native';
import type { CallRow } from '../../api/calls';
import { showNumber } from '../../core/calls/dialling';
import { isLost, type OutcomeKind } from '../../core/calls/engine';
import { messageOf } from '../data/api';
import { useCalls } from '../data/calls';
import { fetchFile } from '../data/files';
import { useCanEdit, useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, Empty, Fold, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

const OUTCOMES = [
  ['answered', 'Answered'],
  ['mailbox', 'Voicemail here'],
  ['unanswered', 'Not answered'],
  ['abandoned', 'Caller hung up'],
  ['carrier-voicemail', 'Carrier’s voicemail'],
  ['failed', 'Failed'],
] as const satisfies readonly (readonly [OutcomeKind, string])[];
type Which = (typeof OUTCOMES)[number][0] | 'all';
const SAID: Partial<Record<OutcomeKind, string>> = Object.fromEntries(OUTCOMES);
const seconds = (ms: number) => `${(ms / 1000).toFixed(ms < 10_000 ? 1 : 0)} s`;

/** The calls that went over the phone system, each with what rang and how that ended. */
export function CallsScreen() {
  const [text, setText] = useState('');
  const [which, setWhich] = useState<Which>('all');
  const search = useDeferredValue(text);
  const canExport = useCanEdit();
  const [trouble, setTrouble] = useState<unknown>(null);
  const calls = useCalls(search, which === 'all' ? null : which);
  const rows = calls.data?.pages.flatMap((page) => page.calls) ?? [];
  const file = () => {
    setTrouble(null);
    fetchFile('/api/calls', 'calls.jsonl').catch(setTrouble);
  };
  return (
    <PageFrame
      title="Calls"
      text="Calls that went over the phone system, the latest first"
      back={null}
      aside={canExport ? <Button kind="quiet" label="Export the last day" onPress={file} /> : null}
    >
      <Section>
        <Refused error={trouble} />
        <SearchField
          label="Search calls"
          placeholder="Person, group, extension or number"
          value={text}
          onChange={setText}
        />
        <Choice
          label="How they ended"
          value={which}
          options={[
            { value: 'all' as Which, label: 'All' },
            ...OUTCOMES.map(([value, label]) => ({ value: value as Which, label })),
          ]}
          onChange={setWhich}
        />
        {calls.isError ? (
          <Trouble message={messageOf(calls.error)} retry={() => void calls.refetch()} />
        ) : calls.isPending ? (
          <Skeleton />
        ) : rows.length === 0 ? (
          <Empty
            title="No calls"
            text={
              search.trim() === '' && which === 'all'
                ? 'Calls are kept from the first one on that goes over the phone system.'
                : 'No call that is kept fits this.'
            }
          />
        ) : (
          <View role="list">
            {rows.map((row) => (
              <CallLine key={row.id} row={row} />
            ))}
          </View>
        )}
        {calls.hasNextPage ? (
          <Button
            label="Show more"
            busy={calls.isFetchingNextPage}
            onPress={() => void calls.fetchNextPage()}
          />
        ) : null}
      </Section>
    </PageFrame>
  );
}

const sayNumber = (text: string) => (/^\+\d+$/.test(text) ? showNumber(text) : text);

function CallLine({ row }: { readonly row: CallRow }) {
  const palette = usePalette();
  const zone = useZone();
  const { from, to, toName, outcome, answeredBy, atMs, talkMs, legs } = row;
  return (
    <View
      role="listitem"
      style={{ paddingVertical: space(2), borderBottomWidth: 1, borderColor: palette.line, gap: 2 }}
    >
      <Words>
        {`${sayWhen(row.at, zone)}: from ${from === null ? 'a withheld number' : sayNumber(from)} to `}
        <Words strong>{toName ?? sayNumber(to)}</Words>
      </Words>
      <Words tone={isLost(outcome) ? 'rust' : 'ink'}>
        {[
          answeredBy
            ? `Answered at ${answeredBy} after ${seconds(atMs)}`
            : `${SAID[outcome] ?? outcome} after ${seconds(atMs)}`,
          talkMs > 0 ? `talked ${seconds(talkMs)}` : '',
        ]
          .filter(Boolean)
          .join(', ')}
      </Words>
      {legs.length > 0 ? (
        <Fold title={`What rang: ${legs.length === 1 ? 'one phone' : `${legs.length} phones`}`}>
          <View role="list" style={{ paddingHorizontal: space(4), gap: space(1) }}>
            {legs.map((leg, n) => (
              <View role="listitem" key={n}>
                <Words size="small">
                  {`${leg.name}: dialled at ${seconds(leg.dialledMs)}, ${
                    leg.alertMs === null ? 'never rang' : `rang from ${seconds(leg.alertMs)}`
                  }, ${leg.end} at ${seconds(leg.endMs)}`}
                </Words>
              </View>
            ))}
          </View>
        </Fold>
      ) : null}
    </View>
  );
}
