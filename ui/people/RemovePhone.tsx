import { useQuery } from '@tanstack/react-query';
import { useRouter } from 'expo-router';
import type { Removal } from '../../core/changes/leaver';
import { withoutPhone } from '../../core/editing';
import { capital, type Endpoint, type Person } from '../../core/estate';
import { api, messageOf } from '../data/api';
import { personKey } from '../data/data';
import { ToSlate } from '../edit/ToSlate';
import { Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

/**
 * What a phone leaves behind if it is removed. Where only its owner's plan is about it, its removal is an edit like
 * any other; where others use it too, all of it goes on a slate together.
 */
export function RemovePhone({
  person,
  endpoint,
  isStored,
  onEdit,
  onClose,
}: {
  readonly person: Person;
  readonly endpoint: Endpoint;
  /** Whether it is live; one that was added just now is in nobody else's plan. */
  readonly isStored: boolean;
  readonly onEdit: (change: (person: Person) => Person) => void;
  readonly onClose: () => void;
}) {
  const router = useRouter();
  const removal = useQuery({
    queryKey: [personKey(person.id), 'removal', endpoint.id],
    queryFn: () =>
      api<Removal>('GET', `${personKey(person.id)}/phones/${encodeURIComponent(endpoint.id)}/removal`),
    enabled: isStored,
    staleTime: 0,
    gcTime: 0,
  });
  const takeOut = () => {
    onEdit((before) => withoutPhone(before, endpoint.id));
    onClose();
  };
  const others = (removal.data?.entries ?? []).filter(({ id }) => id !== person.id);
  const isAlone = !isStored || (removal.data !== undefined && others.length === 0);
  const says = removal.data?.says ?? [];
  return (
    <Sheet
      title={`Remove ${endpoint.label}?`}
      open
      onClose={onClose}
      {...(isAlone ? { action: { label: 'Remove it', onPress: takeOut } } : {})}
      {...(others.length > 0
        ? {
            footer: (
              <ToSlate
                grow
                label="Remove it by a slate"
                entries={() => removal.data?.entries ?? []}
                onDone={(slate) => {
                  onClose();
                  router.navigate(`/slates/${slate}`);
                }}
              />
            ),
          }
        : {})}
    >
      {isStored && removal.isPending ? <Skeleton rows={3} /> : null}
      {removal.isError ? (
        <Trouble message={messageOf(removal.error)} retry={() => void removal.refetch()} />
      ) : null}
      {says.length > 0 ? (
        <>
          <Words strong>What it leaves behind</Words>
          {says.map((each) => (
            <Words key={each}>{`${capital(each)}.`}</Words>
          ))}
        </>
      ) : isAlone ? (
        <Words>No rule rings it, and nobody else uses it.</Words>
      ) : null}
      {others.length > 0 ? (
        <Words tone="soft">
          Others use it too, so its removal goes on a slate with what is changed for them, and is put live
          with all of it.
        </Words>
      ) : isAlone ? (
        <Words tone="soft">
          It is gone once you put the change live. Until then Undo brings it back; afterwards the record does.
        </Words>
      ) : null}
    </Sheet>
  );
}
