import { useState } from 'react';
import { useMutation, useQuery } from '@tanstack/react-query';
import type { Estate, Fault } from '../../core/estate';
import { api, isApiError, messageOf } from './api';
import { queryClient } from './data';

export type ObjectKind = 'group' | 'menu' | 'schedule' | 'status' | 'template';
interface Named {
  readonly id: string;
  readonly name: string;
}

/** A group, menu, schedule or status as the server has it. */
export interface ObjectPage<T> {
  readonly object: T;
  readonly version: number;
  /** Of a group or menu: what its calls can come to. */
  readonly slice: Estate;
}

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

/** The work on one object: edits that are not in force, each of which can be taken back, and putting them in force. */
export function useObjectWork<T extends Named>(kind: ObjectKind, page: ObjectPage<T>) {
  const [steps, setSteps] = useState<readonly T[]>([]);
  const [base, setBase] = useState(page);
  const object = steps.at(-1) ?? page.object;
  const save = useMutation({
    mutationFn: () =>
      api<ObjectPage<T>>('PUT', path(kind, page.object.id), { version: base.version, object }),
    onSuccess: (saved) => {
      setSteps([]);
      setBase(saved);
      queryClient.setQueryData([path(kind, page.object.id)], saved);
      void queryClient.invalidateQueries();
    },
  });
  const faults: readonly Fault[] = isApiError(save.error) ? save.error.faults : [];
  /** What somebody else has put in force meanwhile. */
  const theirs =
    isApiError(save.error) && save.error.status === 409
      ? ((save.error.body.theirs as ObjectPage<T> | null | undefined) ?? null)
      : null;
  return {
    conflict: theirs && { base: base.object, mine: object, theirs: theirs.object },
    keepMine: () => {
      if (theirs) setBase({ ...base, ...theirs });
      save.reset();
    },
    takeTheirs: () => {
      save.reset();
      setSteps([]);
      void queryClient.invalidateQueries();
    },
    object,
    changed: steps.length > 0,
    faults,
    trouble: save.isError && faults.length === 0 && !theirs ? messageOf(save.error) : null,
    busy: save.isPending,
    edit: (change: (object: T) => T) => {
      save.reset();
      if (steps.length === 0) setBase(page);
      setSteps([...steps, change(object)]);
    },
    undo: () => setSteps(steps.slice(0, -1)),
    discard: () => {
      save.reset();
      setSteps([]);
    },
    apply: () => save.mutate(),
  };
}

export const useAddObject = (kind: ObjectKind) =>
  useMutation({
    mutationFn: (object: Named) => api('PUT', path(kind, object.id), { version: null, object }),
    onSuccess: () => void queryClient.invalidateQueries(),
  });
export const useRemoveObject = (kind: ObjectKind) =>
  useMutation({
    mutationFn: (id: string) => api('DELETE', path(kind, id)),
    onSuccess: () => void queryClient.invalidateQueries(),
  });
