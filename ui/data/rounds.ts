import { useInfiniteQuery, useMutation, useQuery } from '@tanstack/react-query';
import type {
  NeverCallPage,
  RecordingsPage,
  RoundNumbersPage,
  RoundPage,
  RoundsPage,
} from '../../api/rounds';
import type { NumberState, RoundPlan } from '../../core/rounds';
import { api } from './api';
import { queryClient } from './data';

const ROUNDS = '/api/rounds';
const RECORDINGS = '/api/recordings';
const NEVER = '/api/never-call';
/** How often a round is looked at while it calls, and otherwise, in ms. */
const CALLING_MS = 1000;
const AT_REST_MS = 15_000;
const path = (id: number, what = '') => `${ROUNDS}/${id}${what}`;

const again = () => {
  for (const key of [ROUNDS, RECORDINGS, NEVER]) void queryClient.invalidateQueries({ queryKey: [key] });
};
const isCalling = ({ state, counts }: Pick<RoundPage, 'state' | 'counts'>) =>
  state === 'running' || (counts.calling ?? 0) > 0;

export const useRounds = () =>
  useQuery({
    queryKey: [ROUNDS],
    queryFn: () => api<RoundsPage>('GET', ROUNDS),
    refetchInterval: ({ state }) => (state.data?.rounds.some(isCalling) ? CALLING_MS : AT_REST_MS),
  });
export const useRound = (id: number) =>
  useQuery({
    queryKey: [ROUNDS, id],
    queryFn: () => api<RoundPage>('GET', path(id)),
    refetchInterval: ({ state }) => (state.data && isCalling(state.data) ? CALLING_MS : AT_REST_MS),
  });
export const useRoundNumbers = (id: number, state: NumberState | null, text: string, isLive: boolean) =>
  useInfiniteQuery({
    queryKey: [ROUNDS, id, 'numbers', state, text],
    queryFn: ({ pageParam }) =>
      api<RoundNumbersPage>(
        'GET',
        path(
          id,
          `/numbers?${new URLSearchParams({ after: String(pageParam), text, ...(state ? { state } : {}) })}`,
        ),
      ),
    initialPageParam: 0,
    getNextPageParam: ({ next }) => next,
    refetchInterval: isLive ? 2 * CALLING_MS : false,
  });

export const useAddRound = (onAdded: (id: number) => void) =>
  useMutation({
    mutationFn: (name: string) => api<{ id: number }>('POST', ROUNDS, { name }),
    onSuccess: ({ id }) => {
      again();
      onAdded(id);
    },
  });
export const usePutRound = (id: number) =>
  useMutation({
    mutationFn: (body: { readonly version: number; readonly plan: RoundPlan }) =>
      api<RoundPage>('PUT', path(id), body),
    onSuccess: again,
  });
export const usePutRoundList = (id: number) =>
  useMutation({
    mutationFn: ({ file, name, version }: { file: ArrayBuffer; name: string; version: number }) =>
      api<RoundPage>(
        'PUT',
        path(id, `/list?${new URLSearchParams({ name, version: String(version) })}`),
        file,
      ),
    onSuccess: again,
  });
export type RoundStep = 'ask' | 'withdraw' | 'approve' | 'start' | 'pause' | 'resume' | 'stop';
export const useRoundStep = (id: number) =>
  useMutation({
    mutationFn: ({ step, version }: { readonly step: RoundStep; readonly version: number }) =>
      api<RoundPage>('POST', path(id, `/${step}`), { version }),
    onSettled: again,
  });
export const useRemoveRound = () =>
  useMutation({ mutationFn: (id: number) => api('DELETE', path(id)), onSettled: again });
export const useRestoreRound = () =>
  useMutation({ mutationFn: (id: number) => api('POST', path(id, '/restore'), {}), onSettled: again });
export const roundReportPath = (id: number) => path(id, '/report.csv');

export const useRecordings = () =>
  useQuery({ queryKey: [RECORDINGS], queryFn: () => api<RecordingsPage>('GET', RECORDINGS) });
export const useAddRecording = (onAdded: (id: number) => void) =>
  useMutation({
    mutationFn: ({ name, wav }: { readonly name: string; readonly wav: ArrayBuffer }) =>
      api<{ id: number }>('POST', `${RECORDINGS}?${new URLSearchParams({ name })}`, wav),
    onSuccess: ({ id }) => {
      again();
      onAdded(id);
    },
  });
export const soundPath = (id: number) => `${RECORDINGS}/${id}/sound`;

export const useNeverCall = () =>
  useQuery({ queryKey: [NEVER], queryFn: () => api<NeverCallPage>('GET', NEVER) });
export const useAddNever = () =>
  useMutation({
    mutationFn: (body: { readonly number: string; readonly why: string }) => api('POST', NEVER, body),
    onSuccess: again,
  });
export const useRemoveNever = () =>
  useMutation({
    mutationFn: (number: string) => api('DELETE', `${NEVER}/${encodeURIComponent(number)}`),
    onSettled: again,
  });
