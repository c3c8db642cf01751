import { useState } from 'react';
import { useMutation, useQuery } from '@tanstack/react-query';
import type { Fault } from '../../core/estate';
import type { EntryKind } from '../../core/changes/slate';
import { api, isApiError, messageOf } from './api';
import { queryClient } from './data';
import { useWorks, type Work } from './works';
import type { ObjectKind, Named, Identified, ObjectPage, Stored } from '../../api/objects';

/** An id made of a name. */
export const idFrom = (name: string): string =>
  name
    .normalize('NFD')
    .replace(/[^\p{Letter}\p{Number}]+/gu, '-')
    .toLowerCase()
    .replace(/^-|-$/g, '')
    .slice(0, 60);

const path = (kind: ObjectKind, id: string) => `/api/objects/${kind}/${encodeURIComponent(id)}`;

export const useObject = <T>(kind: ObjectKind, id: string) =>
  useQuery({ queryKey: [path(kind, id)], queryFn: () => api<ObjectPage<T>>('GET', path(kind, id)) });

/** Edits that are not live, as they are kept. */
interface KeptWork<T> extends Work {
  readonly base: Stored<T>;
  readonly steps: readonly T[];
}

const same = (object: unknown) => object;

/**
 * The work on something that is written as a whole: edits that are not live, each of which can be taken back, and
 * putting them live.
 * @param write sends an object that rests on a version; what is stored then comes back
 */
export function useWork<T extends Named, P extends Stored<T>>(
  page: P,
  write: (version: number, object: T) => Promise<P>,
  onWritten: (page: P) => void,
  /** As what the change is put on a slate; left out: it cannot be. */
  slated?: {
    readonly kind: EntryKind;
    readonly id: string;
    /** The object as a slate holds it, and back. */
    readonly out?: (object: T) => unknown;
    readonly in?: (object: unknown) => T;
  },
) {
  const key = slated ? `${slated.kind}/${slated.id}` : null;
  const kept = useWorks((state) => (key === null ? undefined : state.works[key]));
  const put = useWorks((state) => state.put);
  const [own, setOwn] = useState<Work | null>(null);
  const work = (key === null ? own : (kept ?? null)) as KeptWork<T> | null;
  const setWork = (next: KeptWork<T> | null) => (key === null ? setOwn(next) : put(key, next));
  const steps = work?.steps ?? [];
  const base: Stored<T> = work?.base ?? page;
  const setSteps = (next: readonly T[]) =>
    setWork(next.length > 0 ? { base: { object: base.object, version: base.version }, steps: next } : null);
  const object = steps.at(-1) ?? page.object;
  const save = useMutation({
    mutationFn: () => write(base.version, object),
    onSuccess: (saved) => {
      setWork(null);
      onWritten(saved);
      void queryClient.invalidateQueries();
    },
  });
  const faults: readonly Fault[] = isApiError(save.error) ? save.error.faults : [];
  /** What somebody else has put live meanwhile. */
  const theirs =
    isApiError(save.error) && save.error.status === 409
      ? ((save.error.body.theirs as Stored<T> | null | undefined) ?? null)
      : null;
  return {
    conflict: theirs && { base: base.object, mine: object, theirs: theirs.object },
    keepMine: () => {
      if (theirs && work) setWork({ base: theirs, steps: work.steps });
      save.reset();
    },
    takeTheirs: () => {
      save.reset();
      setSteps([]);
      void queryClient.invalidateQueries();
    },
    object,
    changed: steps.length > 0,
    slated: slated ? { kind: slated.kind, id: slated.id } : null,
    entry: slated
      ? {
          kind: slated.kind,
          id: slated.id,
          name: object.name,
          base: (slated.out ?? same)(base.object),
          after: (slated.out ?? same)(object),
        }
      : null,
    faults,
    trouble: save.isError && faults.length === 0 && !theirs ? messageOf(save.error) : null,
    busy: save.isPending,
    edit: (change: (object: T) => T) => {
      save.reset();
      setSteps([...steps, change(object)]);
    },
    /** Goes on with the object as it stands somewhere else. */
    takeOver: (other: unknown) => {
      setWork({
        base: { object: page.object, version: page.version },
        steps: [slated?.in ? slated.in(other) : (other as T)],
      });
    },
    undo: () => setSteps(steps.slice(0, -1)),
    discard: () => {
      save.reset();
      setSteps([]);
    },
    apply: () => save.mutate(),
  };
}

/** The work on one object of the estate. */
export function useObjectWork<T extends Identified>(kind: ObjectKind, page: ObjectPage<T>) {
  const where = path(kind, page.object.id);
  return useWork<T, ObjectPage<T>>(
    page,
    (version, object) => api<ObjectPage<T>>('PUT', where, { version, object }),
    (saved) => queryClient.setQueryData([where], saved),
    { kind, id: page.object.id },
  );
}

/** All objects of a kind. */
export const useObjects = <T>(kind: ObjectKind) =>
  useQuery({
    queryKey: [`/api/objects/${kind}`],
    queryFn: () => api<{ objects: readonly T[] }>('GET', `/api/objects/${kind}`),
  });
export const useAddObject = (kind: ObjectKind) =>
  useMutation({
    mutationFn: (object: Identified) => api('PUT', path(kind, object.id), { version: null, object }),
    onSuccess: () => void queryClient.invalidateQueries(),
  });
export const useRemoveObject = (kind: ObjectKind) =>
  useMutation({
    mutationFn: (id: string) => api('DELETE', path(kind, id)),
    onSuccess: () => void queryClient.invalidateQueries(),
  });
