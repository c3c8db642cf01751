import { useMutation } from '@tanstack/react-query';
import type { ManyDone, ManyLook } from '../../api/many';
import type { ManyChange } from '../../core/editing';
import { api } from './api';
import { queryClient } from './data';

const changed = () => queryClient.invalidateQueries();

/** What a change does to each of several people; nothing is written. */
export const useManyLook = () =>
  useMutation({
    mutationFn: (asked: { readonly people: readonly string[]; readonly change: ManyChange }) =>
      api<ManyLook>('POST', '/api/many/look', asked),
  });

/** Makes it: for all of them or for none. */
export const useManyApply = () =>
  useMutation({
    mutationFn: (asked: {
      readonly people: readonly { id: string; version: number }[];
      readonly change: ManyChange;
    }) => api<ManyDone>('POST', '/api/many', asked),
    onSuccess: changed,
  });

/** Takes all that a slate changed back at once, where nothing was changed since. */
export const useTakeBackSlate = () =>
  useMutation({
    mutationFn: (slate: number) => api<ManyDone>('POST', '/api/record/slate', { slate, live: true }),
    onSuccess: changed,
  });
