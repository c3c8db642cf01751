import { useState } from 'react';
import { View } from 'react-native';
import type { Estate, KeptPromise, Person, PromiseKind, ReachPromise } from '../../core/estate';
import { PROMISE_KINDS, promisesFor, sayPromise, type PromiseNames } from '../../core/assurance/promises';
import { messageOf } from '../data/api';
import { useSetPromises } from '../data/useProofs';
import { space, usePalette } from '../kit/theme';
import { Choice, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { ToSlate } from '../edit/ToSlate';
import { SPREADS } from '../plan/TargetEditor';
import { TimeField } from '../kit/TimeField';
import { Toggle } from '../kit/Toggle';
import { Words } from '../kit/Words';

function fresh(kind: PromiseKind, estate: Estate): ReachPromise {
  switch (kind) {
    case 'own-mailbox':
      return { kind, withinMs: 45_000 };
    case 'no-cut-off':
      return { kind, withinMs: 1000 };
    case 'rings-within':
      return { kind, withinMs: 6000 };
    case 'no-silence':
      return { kind, longestMs: 8000 };
    case 'wait-at-most':
      return { kind, longestMs: 60_000 };
    case 'only-inside':
      return { kind, schedule: estate.schedules[0]?.id ?? '' };
    case 'no-leaver':
      return {
        kind,
        status: (estate.statuses.find(({ id }) => id === 'left') ?? estate.statuses[0])?.id ?? '',
      };
    case 'no-stranger':
      return { kind, allowed: [] };
    case 'no-carrier-voicemail':
    case 'no-loop':
    case 'one-lost':
    case 'may-dial':
      return { kind };
  }
}

const newId = (kind: PromiseKind, taken: readonly KeptPromise[]) => {
  let n = 1;
  while (taken.some(({ id }) => id === `${kind}-${n}`)) n += 1;
  return `${kind}-${n}`;
};

/** Which promises are kept for a person or for everybody: each with a tap, and its times. */
export function PromiseSheet({
  slice,
  person,
  names,
  onClose,
}: {
  readonly slice: Estate;
  readonly person: Person;
  readonly names: PromiseNames;
  readonly onClose: () => void;
}) {
  const palette = usePalette();
  const save = useSetPromises(slice.promises ?? []);
  const [all, setAll] = useState<readonly KeptPromise[]>(slice.promises ?? []);
  const [scope, setScope] = useState<'everybody' | 'person'>('everybody');
  const mine = (kind: PromiseKind) =>
    all.find(
      ({ promise, people }) =>
        promise.kind === kind && (scope === 'everybody' ? !people : people?.includes(person.id)),
    );
  const change = (kept: KeptPromise, promise: ReachPromise) =>
    setAll(all.map((each) => (each.id === kept.id ? { ...each, promise } : each)));
  const toggle = (kind: PromiseKind, on: boolean) => {
    const kept = mine(kind);
    if (on && !kept)
      setAll([
        ...all,
        {
          id: newId(kind, all),
          promise: fresh(kind, slice),
          ...(scope === 'everybody' ? {} : { people: [person.id] }),
        },
      ]);
    if (!on && kept) {
      const others = scope === 'person' ? (kept.people ?? []).filter((id) => id !== person.id) : [];
      setAll(
        all.flatMap((each) =>
          each.id !== kept.id ? [each] : others.length ? [{ ...kept, people: others }] : [],
        ),
      );
    }
  };
  const isSame = JSON.stringify(all) === JSON.stringify(slice.promises ?? []);
  return (
    <Sheet
      title="Choose promises"
      open
      onClose={onClose}
      action={{
        label: isSame ? 'Done' : 'Keep these promises',
        busy: save.isPending,
        onPress: () => (isSame ? onClose() : save.mutate(all, { onSuccess: onClose })),
      }}
    >
      {save.isError ? <Trouble message={messageOf(save.error)} /> : null}
      {isSame ? null : (
        <ToSlate
          kind="plain"
          entries={() => [
            { kind: 'promises', id: 'promises', name: 'promises', base: slice.promises ?? [], after: all },
          ]}
          onDone={onClose}
        />
      )}
      <Choice
        label="For whom"
        value={scope}
        options={[
          { value: 'everybody', label: 'For everybody' },
          { value: 'person', label: `Only for ${person.name}` },
        ]}
        onChange={setScope}
      />
      {scope === 'person' ? (
        <Words size="small" tone="soft">
          {`Kept in addition to the ${promisesFor(slice.promises, person.id).filter(({ people }) => !people).length} for everybody.`}
        </Words>
      ) : null}
      {PROMISE_KINDS.map((kind) => {
        const kept = mine(kind);
        const promise = kept?.promise ?? fresh(kind, slice);
        return (
          <View
            key={kind}
            style={{ gap: space(2), borderTopWidth: 1, borderColor: palette.line, paddingTop: space(3) }}
          >
            <View style={{ flexDirection: 'row', gap: space(3), alignItems: 'center' }}>
              <Words style={{ flex: 1 }}>{sayPromise(promise, names)}</Words>
              <Toggle
                value={kept !== undefined}
                onChange={(on) => toggle(kind, on)}
                label={sayPromise(promise, names)}
              />
            </View>
            {kept ? <Settings kept={kept} slice={slice} change={change} /> : null}
          </View>
        );
      })}
    </Sheet>
  );
}

function Settings({
  kept,
  slice,
  change,
}: {
  kept: KeptPromise;
  slice: Estate;
  change: (kept: KeptPromise, promise: ReachPromise) => void;
}) {
  const { promise } = kept;
  if ('withinMs' in promise)
    return (
      <TimeField
        label="Within"
        value={promise.withinMs}
        onChange={(ms) => ms !== null && change(kept, { ...promise, withinMs: ms })}
      />
    );
  if ('longestMs' in promise)
    return (
      <TimeField
        label="At most"
        value={promise.longestMs}
        step={1000}
        onChange={(ms) => ms !== null && change(kept, { ...promise, longestMs: ms })}
      />
    );
  if (promise.kind === 'no-carrier-voicemail')
    return (
      <View style={{ gap: space(1) }}>
        <Choice
          titled
          label="Carriers’ times may differ by"
          value={String(promise.spread ?? 0)}
          options={SPREADS}
          onChange={(spread) =>
            change(kept, { kind: promise.kind, ...(spread === '0' ? {} : { spread: Number(spread) }) })
          }
        />
      </View>
    );
  if (promise.kind === 'only-inside')
    return (
      <Choice
        label="Schedule"
        value={promise.schedule}
        options={slice.schedules.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(schedule) => change(kept, { ...promise, schedule })}
      />
    );
  if (promise.kind === 'no-leaver')
    return (
      <Choice
        label="Status of those who have left"
        value={promise.status}
        options={slice.statuses.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(status) => change(kept, { ...promise, status })}
      />
    );
  return null;
}
