import type { ImportStatus } from '../../api/imports';
import { useEffect, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { ProgressBar } from 'react-native-paper';
import { useRouter } from 'expo-router';
import {
  readVCards,
  STAFF_FIELD_NAMES,
  STAFF_FIELDS,
  type PlannedRow,
  type StaffColumns,
} from '../../core/formats';
import { showNumber } from '../../core/calls/dialling';
import { messageOf } from '../data/api';
import { queryClient } from '../data/data';
import { useImport, useImportRows, useImportSteps } from '../data/imports';
import { useCanEdit } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Choice, Empty, Field, Fold, IconButton, Section, Skeleton, Trouble } from '../kit/parts';
import { usePageTitle } from '../kit/usePageTitle';
import { Words } from '../kit/Words';
import { chooseFile } from '../data/files';

/** A staff list, from file or paste, through its preview into the estate. */
export function ImportScreen() {
  usePageTitle('Import staff');
  const router = useRouter();
  const canEdit = useCanEdit();
  const [id, setId] = useState<number | null>(null);
  const steps = useImportSteps(setId);
  const job = useImport(id);
  const state = job.data?.state;
  useEffect(() => {
    if (state === 'written')
      for (const key of ['/api/people', '/api/today', '/api/record'])
        void queryClient.invalidateQueries({ queryKey: [key] });
  }, [state]);
  if (!canEdit) return <Trouble message="Importing staff is for specialists." />;
  const restart = () => {
    setId(null);
    steps.start.reset();
  };
  const trouble = [steps.start, steps.choose, steps.write].find((step) => step.isError)?.error;
  return (
    <View style={{ flex: 1 }}>
      <ScrollView style={{ flex: 1 }} contentContainerStyle={{ paddingBottom: space(6), maxWidth: 1000 }}>
        <View style={{ flexDirection: 'row', alignItems: 'center', padding: space(2) }}>
          <IconButton icon="back" label="Back to People" onPress={() => router.navigate('/people')} />
          <Words size="page" strong heading={1}>
            Import staff
          </Words>
        </View>
        {trouble ? <Trouble message={messageOf(trouble)} /> : null}
        {id === null ? (
          <Source busy={steps.start.isPending} onBytes={(bytes) => steps.start.mutate(bytes)} />
        ) : job.isError ? (
          <Trouble message={messageOf(job.error)} retry={() => void job.refetch()} />
        ) : job.data ? (
          <Job
            job={job.data}
            onRestart={restart}
            onChoose={(choice) => steps.choose.mutate({ id, ...choice })}
            onWrite={() => steps.write.mutate(id)}
            onDone={() => router.navigate('/people')}
          />
        ) : (
          <Skeleton />
        )}
      </ScrollView>
    </View>
  );
}

const MOST_BYTES = 15_000_000;

function Source({ busy, onBytes }: { busy: boolean; onBytes: (bytes: ArrayBuffer) => void }) {
  const [text, setText] = useState('');
  const [error, setError] = useState<string | null>(null);
  const take = async () => {
    const file = await chooseFile('.csv,.txt,.tsv,.vcf,text/csv,text/plain,text/vcard');
    if (!file) return;
    if (file.size > MOST_BYTES)
      return setError(`${file.name} has ${Math.round(file.size / 1e6)} MB; 15 MB is the most that is read.`);
    setError(null);
    if (!/\.vcf$/i.test(file.name)) return onBytes(await file.arrayBuffer());
    const cards = readVCards(await file.text());
    if (!cards.ok)
      return setError(
        cards.faults.map(({ path, message }) => `${path ? `${path} ` : ''}${message}`).join('; '),
      );
    if (cards.notes.length > 0) setError(cards.notes.join('; '));
    onBytes(new TextEncoder().encode(cards.csv).buffer);
  };
  return (
    <Section>
      <Words tone="soft">
        A CSV file with one line of headings, or a file of vCards. Name and extension are needed; direct
        number, mobile, home number, status and permission are taken where there are columns for them. Numbers
        may be written in any form. Nothing is written before you have seen what would become of every row.
      </Words>
      <View style={{ flexDirection: 'row', paddingVertical: space(2) }}>
        <Button kind="main" icon="import" label="Choose a file" busy={busy} onPress={() => void take()} />
      </View>
      {error ? <Words tone="rust">{error}</Words> : null}
      <Field
        label="Or paste the list"
        multiline
        mono
        value={text}
        onChange={setText}
        placeholder={'Name;Extension;Mobile\nOdile Brackwater;4230;778 555 0181'}
      />
      <View style={{ flexDirection: 'row' }}>
        <Button
          label="Read what is pasted"
          disabled={text.trim() === ''}
          busy={busy}
          onPress={() => {
            const bytes = new TextEncoder().encode(text);
            onBytes(bytes.buffer);
          }}
        />
      </View>
      <Words tone="soft" style={{ paddingTop: space(4) }}>
        The other way: everybody who is here, with all their numbers, for an address book.
      </Words>
      <View style={{ flexDirection: 'row' }}>
        <Button kind="quiet" label="Save everybody as vCards" onPress={() => window.open('/api/cards')} />
      </View>
    </Section>
  );
}

interface JobProps {
  readonly job: ImportStatus;
  readonly onRestart: () => void;
  readonly onChoose: (choice: { readAs: string | null; columns: StaffColumns | null }) => void;
  readonly onWrite: () => void;
  readonly onDone: () => void;
}

function Job({ job, onRestart, onChoose, onWrite, onDone }: JobProps) {
  const { summary, state } = job;
  if (state === 'reading' || state === 'writing')
    return (
      <Section>
        <Words live strong>
          {state === 'reading' ? 'Reading the list' : 'Writing'}
          {job.total > 0 ? `: ${job.done} of ${job.total}` : ' …'}
        </Words>
        <ProgressBar progress={job.total > 0 ? job.done / job.total : 0} accessibilityLabel="Progress" />
      </Section>
    );
  if (state === 'written')
    return (
      <Empty
        title="The staff are in"
        text={`${summary?.counts?.create ?? 0} created, ${summary?.counts?.change ?? 0} changed. Whose mobile should ring too: open the person and switch it on.`}
        action={<Button kind="main" label="Show People" onPress={onDone} />}
      />
    );
  if (state === 'failed')
    return (
      <Section>
        <Words
          strong
          tone="rust"
        >{`Nothing was written: ${summary?.failed ?? 'something went wrong'}.`}</Words>
        <View style={{ flexDirection: 'row', gap: space(2) }}>
          <Button
            kind="main"
            label="Read it again"
            onPress={() => onChoose({ readAs: job.readAs, columns: summary?.columns ?? null })}
          />
          <Button label="Another list" onPress={onRestart} />
        </View>
      </Section>
    );
  const counts = summary?.counts;
  const toWrite = (counts?.create ?? 0) + (counts?.change ?? 0);
  return (
    <View>
      {(summary?.faults ?? []).length > 0 ? (
        <Section title="The list cannot be read">
          {summary?.faults.map((fault, i) => (
            <Words key={i} tone="rust">
              {[fault.line > 0 ? `Line ${fault.line}` : '', fault.column > 0 ? `column ${fault.column}` : '']
                .filter(Boolean)
                .join(', ')}
              {fault.line > 0 ? ': ' : ''}
              {fault.message}
            </Words>
          ))}
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            {summary?.faults.some((fault) => fault.code === 'not-utf-8') ? (
              <Button
                kind="main"
                label="Read it as Latin-1"
                onPress={() => onChoose({ readAs: 'latin-1', columns: null })}
              />
            ) : null}
            <Button label="Another list" onPress={onRestart} />
          </View>
        </Section>
      ) : null}
      {counts ? <Preview job={job} counts={counts} /> : null}
      {summary?.headings ? (
        <Columns job={job} onChoose={onChoose} open={(summary.faults ?? []).length > 0} />
      ) : null}
      {counts ? (
        <Section>
          {counts.refuse > 0 ? (
            <Words>{`Refused rows are left out; the other ${toWrite} are written all together or not at all.`}</Words>
          ) : null}
          <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
            <Button
              kind="main"
              label={toWrite > 0 ? `Write ${toWrite} people` : 'Nothing to write'}
              disabled={toWrite === 0}
              onPress={onWrite}
            />
            <Button label="Another list" onPress={onRestart} />
          </View>
        </Section>
      ) : null}
    </View>
  );
}

const ACTIONS: readonly { value: PlannedRow['action']; label: string }[] = [
  { value: 'refuse', label: 'refused' },
  { value: 'create', label: 'created' },
  { value: 'change', label: 'changed' },
  { value: 'same', label: 'as they are' },
];

function Preview({
  job,
  counts,
}: {
  job: ImportStatus;
  counts: Readonly<Record<PlannedRow['action'], number>>;
}) {
  const palette = usePalette();
  const [chosen, setChosen] = useState<PlannedRow['action'] | null>(null);
  const action = chosen ?? ACTIONS.find((each) => counts[each.value] > 0)?.value ?? 'create';
  const rows = useImportRows(job.id, action, true);
  return (
    <Section
      title="What becomes of the rows"
      aside={
        counts.refuse > 0 ? (
          <Button
            kind="quiet"
            label="Download the faults"
            onPress={() => window.location.assign(`/api/imports/${job.id}/refused.csv`)}
          />
        ) : null
      }
    >
      <Choice
        label="Rows"
        value={action}
        options={ACTIONS.map((each) => ({ value: each.value, label: `${counts[each.value]} ${each.label}` }))}
        onChange={setChosen}
      />
      {rows.isPending ? (
        <Skeleton rows={3} />
      ) : rows.isError ? (
        <Trouble message={messageOf(rows.error)} retry={() => void rows.refetch()} />
      ) : (
        <View
          role="list"
          style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}
        >
          {rows.data.rows.map((row) => (
            <View
              role="listitem"
              key={row.line}
              style={{ padding: space(3), borderBottomWidth: 1, borderColor: palette.line, gap: 2 }}
            >
              <View style={{ flexDirection: 'row', gap: space(3) }}>
                <Words strong style={{ flex: 1 }}>
                  {row.name || 'no name'}
                </Words>
                <Words mono size="small">
                  {row.extension}
                </Words>
                <Words mono size="small" tone="soft">{`line ${row.line}`}</Words>
              </View>
              {rowLines(row).map((text, i) => (
                <Words key={i} size="small" tone={row.action === 'refuse' ? 'rust' : 'soft'}>
                  {text}
                </Words>
              ))}
            </View>
          ))}
          {rows.data.rows.length === 0 ? (
            <Words tone="soft" style={{ padding: space(3) }}>
              No rows of this kind.
            </Words>
          ) : null}
          {rows.data.more ? (
            <Words
              tone="soft"
              style={{ padding: space(3) }}
            >{`The first ${rows.data.rows.length} are shown.`}</Words>
          ) : null}
        </View>
      )}
    </Section>
  );
}

const shown = (value: string) => (/^\+\d+$/.test(value) ? showNumber(value) : value || 'none');

function rowLines(row: PlannedRow): string[] {
  switch (row.action) {
    case 'refuse':
      return row.faults.map(
        (fault) =>
          `${STAFF_FIELD_NAMES[fault.field]}${fault.column > 0 ? `, column ${fault.column}` : ''}: ${fault.message}`,
      );
    case 'change':
      return row.changes.map(
        (change) => `${STAFF_FIELD_NAMES[change.field]}: ${shown(change.before)} → ${shown(change.after)}`,
      );
    case 'create': {
      const numbers = [
        ...row.person.lines.flatMap((line) => line.numbers),
        ...row.person.endpoints.flatMap((e) => (e.number ? [e.number] : [])),
      ];
      return [[...numbers.map(showNumber), ...row.notes.map((note) => `with ${note}`)].join(' · ')].filter(
        Boolean,
      );
    }
    case 'same':
      return [];
  }
}

function Columns({
  job,
  onChoose,
  open,
}: {
  job: ImportStatus;
  onChoose: JobProps['onChoose'];
  open: boolean;
}) {
  const headings = job.summary?.headings ?? [];
  const columns = job.summary?.columns ?? {};
  const told =
    { ',': 'comma', ';': 'semicolon', '\t': 'tab', '|': 'bar' }[job.summary?.delimiter ?? ''] ??
    job.summary?.delimiter;
  return (
    <Fold title="Which column is what" open={open}>
      <Section>
        <Words
          size="small"
          tone="soft"
        >{`Read as ${job.summary?.encoding ?? 'text'}, columns parted by ${told}.`}</Words>
        {STAFF_FIELDS.map((field) => (
          <View key={field} style={{ gap: space(1) }}>
            <Words size="small" strong>
              {STAFF_FIELD_NAMES[field]}
            </Words>
            <Choice
              label={STAFF_FIELD_NAMES[field]}
              value={String(columns[field] ?? 'none')}
              options={[
                { value: 'none', label: 'not in the list' },
                ...headings.map((heading, i) => ({ value: String(i), label: heading || `column ${i + 1}` })),
              ]}
              onChange={(value) => {
                const { [field]: _before, ...rest } = columns;
                onChoose({
                  readAs: job.readAs,
                  columns: value === 'none' ? rest : { ...rest, [field]: Number(value) },
                });
              }}
            />
          </View>
        ))}
      </Section>
    </Fold>
  );
}
