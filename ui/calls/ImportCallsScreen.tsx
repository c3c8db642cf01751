import { useState } from 'react';
import { View } from 'react-native';
import { useMutation } from '@tanstack/react-query';
import type { CallImport } from '../../api/calls';
import { messageOf } from '../data/api';
import { sendCalls, useCallImport, useCallImports, useCallImportWork } from '../data/callImports';
import { chooseFile } from '../data/files';
import { useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { PageFrame } from '../kit/PageFrame';
import { Button, LinkRow, LinkRows, Refused, Section, Skeleton, Trouble } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { CallPages } from './CallPages';
import { FoundPart } from './FoundPart';

const STATES: Readonly<Record<CallImport['state'], string>> = {
  sending: 'Not sent whole',
  looking: 'Being looked through',
  looked: 'Looked through, not taken in',
  taking: 'Being taken in',
  stopped: 'Stopped',
  taken: 'Taken in',
  failed: 'Could not be read',
  removed: 'Removed',
};

/** Calls of another phone system, from a file: chosen, looked through, then taken in. */
export function ImportCallsScreen() {
  const [open, setOpen] = useState<number | null>(null);
  const [sent, setSent] = useState(0);
  const imports = useCallImports();
  const zone = useZone();
  const send = useMutation({
    mutationFn: async () => {
      const file = await chooseFile('.csv,.tsv,.txt,.jsonl,.ndjson,.json');
      if (!file) return null;
      setSent(0);
      return sendCalls(file, setSent);
    },
    onSuccess: (id) => {
      if (id !== null) setOpen(id);
      void imports.refetch();
    },
  });
  const rows = imports.data?.imports ?? [];
  return (
    <PageFrame
      title="Import calls"
      text="Calls of another phone system, from a table or as JSON lines"
      back={{ path: '/calls', label: 'Back to the calls' }}
    >
      <CallPages path="/calls/import" />
      <Section>
        <Words tone="soft">
          A table (CSV) with one row a call, or one row for each phone that rang; or JSON lines as the export
          has them. The file is looked through first, and nothing of it comes in twice.
        </Words>
        <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(3) }}>
          <Button
            kind={open === null ? 'main' : 'plain'}
            label="Choose a file"
            busy={send.isPending}
            onPress={() => send.mutate()}
          />
          {send.isPending && sent > 0 ? <Words live>{`${Math.round(sent * 100)} % sent`}</Words> : null}
        </View>
        <Refused error={send.error} />
      </Section>
      {open === null ? null : <OpenPart key={open} id={open} />}
      {imports.isError ? (
        <Trouble message={messageOf(imports.error)} retry={() => void imports.refetch()} />
      ) : imports.isPending ? (
        <Skeleton rows={2} />
      ) : rows.length > 0 ? (
        <Section title="Files">
          <LinkRows>
            {rows.map((row) => {
              const text = [
                STATES[row.state],
                ...(row.state === 'taken' ? [`${row.added.toLocaleString('en')} calls`] : []),
                `${sayWhen(row.at, zone)} by ${row.who}`,
              ].join(' · ');
              return <LinkRow key={row.id} title={row.name} text={text} onPress={() => setOpen(row.id)} />;
            })}
          </LinkRows>
        </Section>
      ) : null}
    </PageFrame>
  );
}

/** One file: how far it is, what was found in it, and what can be done with it. */
function OpenPart({ id }: { readonly id: number }) {
  const job = useCallImport(id);
  const work = useCallImportWork(id);
  if (job.isError) return <Trouble message={messageOf(job.error)} retry={() => void job.refetch()} />;
  if (job.isPending) return <Skeleton rows={3} />;
  const { state, name, rows, calls, added, found, sample } = job.data;
  const count = (n: number) => n.toLocaleString('en');
  const of = (n: number, what: string) => `${count(n)} ${what}${n === 1 ? '' : 's'}`;
  const error = work.look.error ?? work.take.error ?? work.stop.error ?? work.remove.error;
  return (
    <>
      <Section title={name}>
        <Words strong live tone={state === 'failed' || found?.why ? 'rust' : 'ink'}>
          {state === 'looking'
            ? `Looking through it: ${of(rows, 'row')} so far`
            : state === 'taking'
              ? `Taking it in: ${count(calls)} of ${of(found?.calls ?? calls, 'call')}`
              : state === 'stopped'
                ? `Stopped after ${count(calls)} of ${of(found?.calls ?? calls, 'call')}. It goes on from there.`
                : state === 'taken'
                  ? `${of(added, 'call')} came in; ${count(calls - added)} were there already.`
                  : state === 'removed'
                    ? 'Its calls were removed.'
                    : found?.why
                      ? found.why
                      : found
                        ? `${of(found.calls, 'call')} in ${of(found.rows, 'row')}${found.faultCount > 0 ? `; ${of(found.faultCount, 'row')} cannot be read` : ''}.`
                        : 'It was not sent whole. Choose the file again.'}
        </Words>
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          {(state === 'looked' || state === 'stopped') && found && !found.why && found.calls > 0 ? (
            <Button
              kind="main"
              label={state === 'stopped' ? 'Go on' : `Take in ${of(found.calls, 'call')}`}
              busy={work.take.isPending}
              onPress={() => work.take.mutate()}
            />
          ) : null}
          {state === 'taking' ? (
            <Button label="Stop" busy={work.stop.isPending} onPress={() => work.stop.mutate()} />
          ) : null}
          {state === 'looking' || state === 'taking' || state === 'removed' ? null : (
            <Button
              kind="quiet"
              label={state === 'taken' || state === 'stopped' ? 'Remove its calls' : 'Remove the file'}
              busy={work.remove.isPending}
              onPress={() => work.remove.mutate()}
            />
          )}
        </View>
        <Refused error={error} />
      </Section>
      {found && (state === 'looked' || state === 'failed') ? (
        <FoundPart
          key={`${found.rows} ${found.faultCount}`}
          found={found}
          sample={sample}
          busy={work.look.isPending}
          onLook={(choices) => work.look.mutate(choices)}
        />
      ) : null}
    </>
  );
}
