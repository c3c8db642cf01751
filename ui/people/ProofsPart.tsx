import { useState } from 'react';
import { View } from 'react-native';
import { ProgressBar } from 'react-native-paper';
import { useRouter } from 'expo-router';
import { useMutation, useQuery } from '@tanstack/react-query';
import { showNumbersIn } from '../../core/calls/dialling';
import type { KeptPromise } from '../../core/estate';
import { sayPromise } from '../../core/assurance/promises';
import { api, messageOf } from '../data/api';
import { queryClient } from '../data/data';
import { useRole } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { useNamed } from '../edit/Search';
import { Button, Fold, LinkRow, ProofMark, Section, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';

interface Proofs {
  readonly promises: readonly KeptPromise[];
  readonly revision: number;
  readonly run: {
    readonly state: 'running' | 'done' | 'cancelled' | 'failed';
    readonly revision: number;
    readonly done: number;
    readonly total: number;
    readonly cases: number;
    readonly incomplete: number;
    readonly broken: readonly {
      readonly person: string;
      readonly name: string;
      readonly broken: readonly { readonly id: string; readonly why: string }[];
    }[];
  } | null;
}

const KEY = '/api/proofs';

/** All promises for everybody: gone through on the server, with progress, and who breaks which. */
export function ProofsPart() {
  const palette = usePalette();
  const router = useRouter();
  const canRun = useRole() !== 'manager';
  const proofs = useQuery({
    queryKey: [KEY],
    queryFn: () => api<Proofs>('GET', KEY),
    refetchInterval: ({ state }) => (state.data?.run?.state === 'running' ? 700 : false),
  });
  const again = () => void queryClient.invalidateQueries({ queryKey: [KEY] });
  const start = useMutation({ mutationFn: () => api('POST', KEY, {}), onSettled: again });
  const stop = useMutation({ mutationFn: () => api('DELETE', KEY), onSettled: again });
  const schedules = useNamed('schedule');
  const statuses = useNamed('status');
  if (proofs.isError)
    return <Trouble message={messageOf(proofs.error)} retry={() => void proofs.refetch()} />;
  if (!proofs.data || proofs.data.promises.length === 0) return null;
  const { promises, run, revision } = proofs.data;
  const running = run?.state === 'running';
  const nameOf = (of: typeof schedules, id: string) => of.data?.objects.find((each) => each.id === id)?.name;
  const names = {
    person: () => undefined,
    schedule: (id: string) => nameOf(schedules, id),
    status: (id: string) => nameOf(statuses, id),
  };
  const byPromise = promises.flatMap((kept) => {
    const who = (run?.broken ?? []).flatMap(({ person, name, broken }) => {
      const found = broken.find(({ id }) => id === kept.id);
      return found ? [{ person, name, why: found.why }] : [];
    });
    return who.length ? [{ kept, who }] : [];
  });
  return (
    <Section
      title="Promises"
      term="promise"
      aside={
        !canRun ? null : running ? (
          <Button kind="quiet" label="Cancel" onPress={() => stop.mutate()} />
        ) : (
          <Button
            kind="quiet"
            label={run ? 'Go through again' : 'Go through all'}
            busy={start.isPending}
            onPress={() => start.mutate()}
          />
        )
      }
    >
      <Words size="small" tone="soft" live>
        {!run
          ? `${promises.length} promises are kept, and have not been checked for everybody yet.`
          : running
            ? `${run.done} of ${run.total} people`
            : `${run.cases.toLocaleString('en')} cases for ${run.done} of ${run.total} people${
                run.state === 'done'
                  ? ''
                  : run.state === 'cancelled'
                    ? ', then cancelled'
                    : ', then it failed'
              }${run.incomplete ? `; for ${run.incomplete} there are more cases than were checked` : ''}${
                run.revision === revision ? '' : '. Something was changed since'
              }.`}
      </Words>
      {running ? (
        <ProgressBar progress={run.total ? run.done / run.total : 0} color={palette.accent} />
      ) : null}
      {run && !running && byPromise.length === 0 ? (
        <Words>
          {run.incomplete === 0
            ? 'All that was checked holds.'
            : `No call that breaks one was found; for ${run.incomplete} of the people that is no proof yet.`}
        </Words>
      ) : null}
      <View style={{ marginHorizontal: -space(4) }}>
        {byPromise.map(({ kept, who }) => (
          <Broken
            key={kept.id}
            title={sayPromise(kept.promise, names)}
            who={who}
            onOpen={(id) => router.navigate(`/people/${encodeURIComponent(id)}`)}
          />
        ))}
      </View>
    </Section>
  );
}

const MOST = 20;

function Broken({
  title,
  who,
  onOpen,
}: {
  title: string;
  who: readonly { person: string; name: string; why: string }[];
  onOpen: (id: string) => void;
}) {
  const [all, setAll] = useState(false);
  return (
    <Fold title={`${title}: broken for ${who.length}`}>
      {who.slice(0, all ? undefined : MOST).map(({ person, name, why }) => (
        <LinkRow
          key={person}
          title={name}
          text={showNumbersIn(why)}
          mark={<ProofMark state="broken" />}
          onPress={() => onOpen(person)}
        />
      ))}
      {who.length > MOST && !all ? (
        <Button kind="quiet" label={`Show all ${who.length}`} onPress={() => setAll(true)} />
      ) : null}
    </Fold>
  );
}
