import type { ReactNode } from 'react';
import { useRouter } from 'expo-router';
import type { ManyChange } from '../../core/editing';
import { messageOf } from '../data/api';
import { useManyApply, useManyLook, useTakeBackSlate } from '../data/many';
import { Button, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';
import { count, ManyRows } from './ManyRows';

/** A change of several people: what and whom, then what it does to each, then all of them or none, then its undoing. */
export function ManySheet({
  title,
  people,
  change,
  missing,
  otherwise,
  onClose,
  children,
}: {
  readonly title: string;
  readonly people: readonly string[];
  /** Null until it is chosen. */
  readonly change: ManyChange | null;
  /** What is to be done first, while there is nothing to look at. */
  readonly missing: string;
  /** Back to what was chosen. */
  readonly otherwise: string;
  readonly onClose: () => void;
  /** The choosing, shown until it is looked at. */
  readonly children: ReactNode;
}) {
  const router = useRouter();
  const look = useManyLook();
  const apply = useManyApply();
  const back = useTakeBackSlate();
  const rows = look.data?.rows;
  const toChange = rows?.filter((row) => row.changes > 0) ?? [];
  const canLook = change !== null && people.length > 0;
  const goLook = () => {
    apply.reset();
    if (canLook) look.mutate({ people, change });
  };
  const openSlate = (slate: number) => {
    onClose();
    router.navigate(`/slates/${slate}`);
  };
  const done = apply.data;
  const footer = done ? (
    <>
      {done.live ? (
        <Button
          label="Undo"
          busy={back.isPending}
          disabled={back.isSuccess}
          onPress={() => back.mutate(done.slate)}
        />
      ) : (
        <Button label="Open the slate" onPress={() => openSlate(done.slate)} />
      )}
      <Button kind="main" grow label="Done" onPress={onClose} />
    </>
  ) : rows ? (
    <>
      <Button label={otherwise} onPress={() => look.reset()} />
      <Button
        kind="main"
        grow
        disabled={toChange.length === 0}
        busy={apply.isPending}
        label={toChange.length === 0 ? 'Nothing changes' : `Put live for ${count(toChange.length)}`}
        onPress={() =>
          change && apply.mutate({ people: toChange.map(({ id, version }) => ({ id, version })), change })
        }
      />
    </>
  ) : (
    <Button
      kind="main"
      grow
      disabled={!canLook}
      busy={look.isPending}
      label={canLook ? `Look at what changes for ${count(people.length)}` : missing}
      onPress={goLook}
    />
  );
  return (
    <Sheet title={title} open onClose={onClose} footer={footer}>
      {look.isError ? <Trouble message={messageOf(look.error)} retry={goLook} /> : null}
      {apply.isError ? <Trouble message={messageOf(apply.error)} retry={goLook} /> : null}
      {back.isError ? <Trouble message={messageOf(back.error)} /> : null}
      {done ? (
        <Words strong live>
          {!done.live
            ? `Not live. ${done.message} The changes stand on a slate of their own.`
            : !back.data
              ? `Live now for ${count(done.changed)}.`
              : back.data.live
                ? `Undone: ${count(back.data.changed)} as before.`
                : `Not undone. ${back.data.message} It stands on a slate.`}
        </Words>
      ) : rows ? (
        <ManyRows rows={rows} />
      ) : (
        children
      )}
    </Sheet>
  );
}
