import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import type { Estate, Person, ReachPromise } from '../../core/estate';
import {
  promiseNames,
  promisesFor,
  sayPromise,
  type Breach,
  type Mend,
  type Proof,
} from '../../core/assurance/promises';
import type { EstateIndex } from '../../core/calls/engine';
import { scopeNow, useProofs } from '../data/useProofs';
import { useRole } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { reachWorker } from '../data/reach';
import { Button, Empty, ProofMark, Section, Skeleton, Trouble } from '../kit/parts';
import { PromiseSheet } from './PromiseSheet';
import { Words } from '../kit/Words';

/** The promises kept for a person, each proved or with the call that breaks it. */
export function PromisesPart({
  slice,
  person,
  index,
  onShow,
  onMend,
}: {
  readonly slice: Estate;
  readonly person: Person;
  readonly index: EstateIndex;
  readonly onShow: (breach: Breach) => void;
  readonly onMend: ((person: Person) => void) | null;
}) {
  const palette = usePalette();
  const [choosing, setChoosing] = useState(false);
  const kept = useMemo(() => promisesFor(slice.promises, person.id), [slice, person.id]);
  const { run, trouble } = useProofs(slice, person.id, kept);
  const canEdit = useRole() === 'specialist';
  const names = promiseNames(index);
  return (
    <Section
      title="Promises"
      term="promise"
      aside={
        canEdit ? <Button kind="quiet" label="Choose promises" onPress={() => setChoosing(true)} /> : null
      }
    >
      {kept.length === 0 ? (
        <Empty
          title="Nothing is promised yet"
          text="A promise is a statement that must hold in every case, such as: no mobile carrier’s voicemail ever takes a call."
        />
      ) : (
        <>
          <Words size="small" tone="soft" live>
            {run
              ? run.complete
                ? `${run.cases.toLocaleString('en')} cases, all checked`
                : `${run.cases.toLocaleString('en')} cases checked, and there are more: what holds so far is not proved`
              : 'Going through all cases'}
          </Words>
          {trouble ? <Trouble message={trouble} /> : null}
          <View style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}>
            {run ? (
              run.proofs.map((proof, i) => (
                <Row
                  key={kept[i]?.id ?? i}
                  proof={proof}
                  complete={run.complete}
                  first={i === 0}
                  text={sayPromise(proof.promise, names)}
                  say={(promise) => sayPromise(promise, names)}
                  onShow={onShow}
                  mender={
                    onMend
                      ? {
                          find: () =>
                            reachWorker('promises').mend(
                              slice,
                              person.id,
                              proof.promise,
                              kept.map(({ promise }) => promise).filter((_, n) => n !== i),
                              scopeNow(),
                            ),
                          take: onMend,
                        }
                      : null
                  }
                />
              ))
            ) : (
              <Skeleton rows={kept.length} />
            )}
          </View>
        </>
      )}
      {choosing ? (
        <PromiseSheet slice={slice} person={person} names={names} onClose={() => setChoosing(false)} />
      ) : null}
    </Section>
  );
}

type Search = 'idle' | 'looking' | 'none' | Mend;

function Row({
  proof,
  complete,
  first,
  text,
  say,
  onShow,
  mender,
}: {
  proof: Proof;
  complete: boolean;
  first: boolean;
  text: string;
  say: (promise: ReachPromise) => string;
  onShow: (breach: Breach) => void;
  mender: { find: () => Promise<Mend | null>; take: (person: Person) => void } | null;
}) {
  const palette = usePalette();
  const [search, setSearch] = useState<Search>('idle');
  const look = () => {
    setSearch('looking');
    mender?.find().then(
      (mend) => setSearch(mend ?? 'none'),
      () => setSearch('none'),
    );
  };
  return (
    <View
      style={{
        flexDirection: 'row',
        gap: space(3),
        padding: space(3),
        borderTopWidth: first ? 0 : 1,
        borderColor: palette.line,
      }}
    >
      <View style={{ paddingTop: 6 }}>
        <ProofMark state={proof.broken ? 'broken' : complete ? 'holds' : 'open'} />
      </View>
      <View style={{ flex: 1, gap: space(1) }}>
        <Words strong={proof.broken !== null}>{text}</Words>
        {proof.broken ? (
          <>
            <Words size="small" tone="rust">
              {showNumbersIn(proof.broken.why)}
            </Words>
            <View style={{ flexDirection: 'row', flexWrap: 'wrap', marginLeft: -space(2) }}>
              <Button
                kind="quiet"
                label="Show the call"
                onPress={() => proof.broken && onShow(proof.broken)}
              />
              {mender && search === 'idle' ? <Button kind="quiet" label="Find a fix" onPress={look} /> : null}
            </View>
            {search === 'looking' ? (
              <Words size="small" tone="soft">
                Trying fixes, each proved
              </Words>
            ) : null}
            {search === 'none' ? (
              <Words size="small" tone="soft">
                No change of this person’s own settings makes it hold without breaking another promise.
              </Words>
            ) : null}
            {typeof search === 'object' ? (
              <View style={{ gap: space(2), alignItems: 'flex-start' }}>
                <Words size="small">
                  {search.breaks.length === 0
                    ? `${search.text}: then it holds, and so does all that holds now.`
                    : `${search.text}: then it holds, but no longer: ${search.breaks.map(say).join('; ')}.`}
                </Words>
                <Button
                  label="Take this fix"
                  onPress={() => {
                    mender?.take(search.person);
                    setSearch('idle');
                  }}
                />
              </View>
            ) : null}
          </>
        ) : null}
      </View>
    </View>
  );
}
