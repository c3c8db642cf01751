import type { PersonPage } from '../../api/people';
import { useState } from 'react';
import { View } from 'react-native';
import type { ComparedField, Comparison, Deviation } from '../../core/formats';
import { orderAsMarkdown } from '../../core/changes/work-order';
import { api, messageOf } from '../data/api';
import { personKey, useToday } from '../data/data';
import { chooseFile, saveFile } from '../data/files';
import { space, usePalette } from '../kit/theme';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, Empty, Section, Skeleton, Tick } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { ToSlate } from '../edit/ToSlate';
import { Words } from '../kit/Words';

interface Answer {
  readonly headings: readonly string[];
  readonly matched: Readonly<Partial<Record<ComparedField, string>>>;
  readonly names: Readonly<Record<ComparedField, string>>;
  readonly comparison: Comparison | null;
}
const FIRST = 60;

/** A table exported from another phone system, held against the estate. */
export function CompareScreen() {
  const today = useToday();
  const [file, setFile] = useState<File | null>(null);
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [matching, setMatching] = useState(false);
  const [ours, setOurs] = useState<ReadonlySet<string>>(new Set());
  const [shown, setShown] = useState(FIRST);
  const ask = async (chosen: File, columns: Readonly<Partial<Record<string, string>>> = {}) => {
    setBusy(true);
    setTrouble(null);
    try {
      const query = Object.entries(columns)
        .map(([field, heading]) => `${encodeURIComponent(field)}:${encodeURIComponent(heading ?? '')}`)
        .join(',');
      const path = `/api/comparison${query ? `?columns=${encodeURIComponent(query)}` : ''}`;
      const next = await api<Answer>('POST', path, await chosen.arrayBuffer());
      setAnswer(next);
      setOurs(new Set());
      setMatching(next.comparison === null);
    } catch (error) {
      setTrouble(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  const choose = async () => {
    const chosen = await chooseFile('.csv,.txt,text/csv');
    if (!chosen) return;
    setFile(chosen);
    await ask(chosen);
  };
  const comparison = answer?.comparison ?? null;
  const forOrder = comparison?.deviations.filter(({ id }) => ours.has(id)) ?? [];
  const saveOrder = () => {
    const steps = forOrder.map((each) => ({
      id: each.id,
      kind: 'setting' as const,
      whose: each.name,
      what: each.what,
      before: each.theirs,
      after: each.ours,
    }));
    const head = {
      name: `To be set as here: ${file?.name ?? ''}`,
      organisation: today.data?.organisation ?? '',
      note: '',
      date: new Date().toISOString().slice(0, 10),
    };
    saveFile('work-order.md', orderAsMarkdown(head, { steps, gaps: [] }, new Set()), 'text/markdown');
  };
  return (
    <PageFrame
      title="Compare with a phone system"
      text={comparison && file ? `${file.name}: ${comparison.rows} rows, ${comparison.same} the same` : ''}
      back={{ path: '/routes', label: 'Back to Routes' }}
    >
      <Section>
        <Words tone="soft">
          A table exported from the organisation’s own phone system, as CSV with a row for each extension.
          What differs is listed; each difference is taken over here, or put on a work order there.
        </Words>
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          <Button
            kind={answer ? 'plain' : 'main'}
            label="Choose a file"
            busy={busy}
            onPress={() => void choose()}
          />
          {answer ? <Button label="Columns" onPress={() => setMatching(true)} /> : null}
        </View>
        {trouble ? (
          <Words tone="rust" live>
            {trouble}
          </Words>
        ) : null}
      </Section>
      {busy ? <Skeleton rows={3} /> : null}
      {comparison && !busy ? (
        <Section title="Differences" aside={<Words tone="soft">{comparison.deviations.length}</Words>}>
          {comparison.deviations.length === 0 ? (
            <Empty title="No difference" text="Everything in this table is set the same here." />
          ) : (
            <View role="list">
              {comparison.deviations.slice(0, shown).map((each) => (
                <DeviationRow
                  key={each.id}
                  deviation={each}
                  isOurs={ours.has(each.id)}
                  onOurs={() => {
                    const next = new Set(ours);
                    if (!next.delete(each.id)) next.add(each.id);
                    setOurs(next);
                  }}
                />
              ))}
            </View>
          )}
          {comparison.deviations.length > shown ? (
            <Button label="Show more" onPress={() => setShown(shown + FIRST)} />
          ) : null}
          {forOrder.length > 0 ? (
            <View style={{ flexDirection: 'row' }}>
              <Button kind="main" label={`Work order of ${forOrder.length}`} onPress={saveOrder} />
            </View>
          ) : null}
        </Section>
      ) : null}
      {comparison && comparison.refused.length > 0 ? (
        <Section title="Rows that could not be read">
          {comparison.refused.slice(0, FIRST).map(({ line, name, message }) => (
            <Words key={line} size="small">{`Line ${line}${name ? `, ${name}` : ''}: ${message}`}</Words>
          ))}
        </Section>
      ) : null}
      {matching && answer && file ? (
        <ColumnsSheet
          answer={answer}
          onClose={() => setMatching(false)}
          onKeep={(columns) => void ask(file, columns)}
        />
      ) : null}
    </PageFrame>
  );
}

function DeviationRow({
  deviation,
  isOurs,
  onOurs,
}: {
  readonly deviation: Deviation;
  readonly isOurs: boolean;
  readonly onOurs: () => void;
}) {
  const palette = usePalette();
  const { name, what, ours, theirs, take, why, person } = deviation;
  const entries = async () => {
    const isNew = deviation.id.startsWith('new/');
    const base = isNew ? null : (await api<PersonPage>('GET', personKey(person))).person;
    return [{ kind: 'person' as const, id: person, name, base, after: take }];
  };
  return (
    <View
      role="listitem"
      style={{ paddingVertical: space(2), gap: space(1), borderBottomWidth: 1, borderColor: palette.line }}
    >
      <Words strong>{`${name}: ${what}`}</Words>
      <Words>{`Here: ${ours}. There: ${theirs}.`}</Words>
      {why ? <Words size="small" tone="soft">{`Cannot be taken over: ${why}.`}</Words> : null}
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(3), alignItems: 'center' }}>
        {take && !isOurs ? <ToSlate kind="plain" label="Take over" entries={entries} /> : null}
        <Tick label="Ours is right: onto a work order" on={isOurs} onPress={onOurs} />
      </View>
    </View>
  );
}

function ColumnsSheet({
  answer,
  onClose,
  onKeep,
}: {
  readonly answer: Answer;
  readonly onClose: () => void;
  readonly onKeep: (columns: Readonly<Partial<Record<string, string>>>) => void;
}) {
  const [columns, setColumns] = useState<Readonly<Partial<Record<string, string>>>>(answer.matched);
  const isReady = Boolean(columns.extension && columns.name);
  return (
    <Sheet
      title="Which column is what"
      open
      onClose={onClose}
      action={{ label: 'Compare', disabled: !isReady, onPress: () => onKeep(columns) }}
    >
      <Words tone="soft">
        Extension and name are needed. What is chosen here is remembered for the next table with these
        headings.
      </Words>
      {(Object.entries(answer.names) as [ComparedField, string][])
        .filter(([field]) => !['givenName', 'familyName'].includes(field))
        .map(([field, label]) => (
          <Choice
            key={field}
            titled
            label={label}
            value={columns[field] ?? ''}
            options={[
              { value: '', label: 'None' },
              ...answer.headings.filter(Boolean).map((heading) => ({ value: heading, label: heading })),
            ]}
            onChange={(heading) => {
              const { [field]: _before, ...rest } = columns;
              setColumns(heading ? { ...rest, [field]: heading } : rest);
            }}
          />
        ))}
    </Sheet>
  );
}
