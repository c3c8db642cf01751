import { useDeferredValue, useState } from 'react';
import { View } from 'react-native';
import type { CallRow, Went } from '../../api/calls';
import { isLost, type OutcomeKind } from '../../core/calls/engine';
import { messageOf } from '../data/api';
import { useCalls } from '../data/calls';
import { fetchFile } from '../data/files';
import { useCanEdit, useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { PageFrame } from '../kit/PageFrame';
import {
  Button,
  Choice,
  Empty,
  Fold,
  LinkRow,
  LinkRows,
  Refused,
  Section,
  Skeleton,
  Trouble,
} from '../kit/parts';
import { showNumbersIn } from '../../core/calls/dialling';
import { SearchField } from '../kit/SearchField';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { useIsWide } from '../kit/theme';
import { CallPages } from './CallPages';
import { CallsTable } from './CallsTable';
import { GoingPart } from './GoingPart';
import { NO_SPAN, SpanPart, spanOf, type Span } from './SpanPart';
import { OUTCOMES, sayAfter, sayLength, sayNumber, sayOutcome, WENT_WORDS } from './words';

type Which = OutcomeKind | 'all';

/** The calls that went, each leading to how it went and how it should have; and those that are going on. */
export function CallsScreen() {
  const [text, setText] = useState('');
  const [which, setWhich] = useState<Which>('all');
  const [went, setWent] = useState<Went | 'all'>('all');
  const [span, setSpan] = useState<Span>(NO_SPAN);
  const [trouble, setTrouble] = useState<unknown>(null);
  const [saving, setSaving] = useState(false);
  const search = useDeferredValue(text);
  const zone = useZone();
  const wide = useIsWide();
  const canExport = useCanEdit();
  const asked = spanOf(span, zone);
  const calls = useCalls({
    text: search,
    outcome: which === 'all' ? null : which,
    went: went === 'all' ? null : went,
    from: asked?.from ?? null,
    to: asked?.to ?? null,
  });
  const rows = calls.data?.pages.flatMap((page) => page.calls) ?? [];
  const isAll = search.trim() === '' && which === 'all' && went === 'all' && asked === null;
  const file = (form: 'csv' | 'jsonl', each: 'call' | 'phone') => {
    setTrouble(null);
    setSaving(false);
    const span = asked ? `&from=${encodeURIComponent(asked.from)}&to=${encodeURIComponent(asked.to)}` : '';
    fetchFile(`/api/calls/export?form=${form}&each=${each}${span}`, `calls.${form}`).catch(setTrouble);
  };
  return (
    <PageFrame
      title="Calls"
      text="Calls that went over the phone system, the latest first"
      back={null}
      aside={
        canExport ? (
          <Button
            kind="quiet"
            label={asked ? 'Export these hours' : 'Export the last day'}
            onPress={() => setSaving(true)}
          />
        ) : null
      }
    >
      <CallPages path="/calls" />
      {saving ? (
        <Sheet
          title={asked ? 'Export these hours' : 'Export the last day'}
          open
          onClose={() => setSaving(false)}
        >
          <Words tone="soft">
            Every call of the span, whatever is searched for. Choose hours under Narrow down for another span.
          </Words>
          <Button label="CSV, one row a call" onPress={() => file('csv', 'call')} />
          <Button label="CSV, one row for each phone" onPress={() => file('csv', 'phone')} />
          <Button label="JSON lines, with all that is known" onPress={() => file('jsonl', 'call')} />
        </Sheet>
      ) : null}
      <GoingPart />
      <Section>
        <Refused error={trouble} />
        <SearchField
          label="Search calls"
          placeholder="Person, group, extension or number"
          value={text}
          onChange={setText}
        />
        <Fold title={isAll || search.trim() !== '' ? 'Narrow down' : 'Narrowed down'}>
          <Section>
            <SpanPart span={span} onSpan={setSpan} />
            <Choice
              label="How they ended"
              value={which}
              options={[
                { value: 'all' as Which, label: 'However they ended' },
                ...OUTCOMES.map(([value, label]) => ({ value: value as Which, label })),
              ]}
              onChange={setWhich}
            />
            <Choice
              label="Whether they went as planned"
              value={went}
              options={[
                { value: 'all' as const, label: 'However they went' },
                ...(Object.entries(WENT_WORDS) as [Went, string][]).map(([value, label]) => ({
                  value,
                  label,
                })),
              ]}
              onChange={setWent}
            />
          </Section>
        </Fold>
        {calls.isError ? (
          <Trouble message={messageOf(calls.error)} retry={() => void calls.refetch()} />
        ) : calls.isPending ? (
          <Skeleton />
        ) : rows.length === 0 ? (
          <Empty
            title="No calls"
            text={
              isAll
                ? 'Calls are kept from the first one on that goes over the phone system.'
                : 'No call that is kept fits this.'
            }
          />
        ) : wide ? (
          <CallsTable rows={rows} />
        ) : (
          <LinkRows>
            {rows.map((row) => (
              <CallLine key={row.key} row={row} zone={zone} />
            ))}
          </LinkRows>
        )}
        {calls.hasNextPage ? (
          <View style={{ flexDirection: 'row' }}>
            <Button
              label="Show more"
              busy={calls.isFetchingNextPage}
              onPress={() => void calls.fetchNextPage()}
            />
          </View>
        ) : null}
      </Section>
    </PageFrame>
  );
}

function CallLine({ row, zone }: { readonly row: CallRow; readonly zone: string }) {
  const { from, to, toName, outcome, answeredBy, atMs, talkMs } = row;
  const end = answeredBy
    ? `${outcome === 'answered' ? 'Answered at' : `${sayOutcome(outcome)}:`} ${showNumbersIn(answeredBy)}`
    : sayOutcome(outcome);
  return (
    <LinkRow
      href={`/calls/${encodeURIComponent(row.key)}`}
      title={`${sayWhen(row.at, zone)}  ${toName ?? sayNumber(to)}`}
      text={[
        `From ${from === null ? 'a withheld number' : sayNumber(from)}`,
        `${isLost(outcome) ? 'Lost: ' : ''}${end} ${sayAfter(atMs)}`,
        ...(talkMs > 0 ? [`${outcome === 'mailbox' ? 'recorded' : 'talked'} ${sayLength(talkMs)}`] : []),
        ...(row.went === 'otherwise' ? ['not as planned'] : []),
      ].join(' · ')}
    />
  );
}
