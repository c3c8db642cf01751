import { useMutation, useQuery } from '@tanstack/react-query';
import type {
  Colleagues,
  DeskPage,
  OwnDesks,
  PersonDesk,
  SittingPage,
  RosterPreview,
  DeskTry,
} from '../../api/desks';
import type { DeskPhone } from '../../api/provisioning';
import { api, isApiError } from './api';
import { queryClient } from './data';

/** How often who sits where is asked again, ms. */
const EVERY_MS = 15_000;
/** How often a phone that is about to change is asked for, ms. */
const SOON_MS = 2000;

/** Who sits where. @param at ISO 8601; null: now */
export function useSitting(at: string | null) {
  const path = `/api/desks/sitting${at === null ? '' : `?at=${encodeURIComponent(at)}`}`;
  return useQuery({
    queryKey: ['/api/desks', path],
    queryFn: () => api<SittingPage>('GET', path),
    ...(at === null ? { refetchInterval: EVERY_MS } : {}),
  });
}
export function useDeskPage(id: string) {
  const path = `/api/desks/${encodeURIComponent(id)}/page`;
  return useQuery({
    queryKey: ['/api/desks', path],
    queryFn: () => api<DeskPage>('GET', path),
    refetchInterval: EVERY_MS,
  });
}
/** What stands on the phone of a desk; asked at once when a phone that starts again should be there. */
export function useDeskPhone(id: string) {
  const path = `/api/provisioning/desks/${encodeURIComponent(id)}`;
  return useQuery({
    queryKey: ['/api/desks', path],
    queryFn: () => api<DeskPhone>('GET', path),
    refetchInterval: ({ state: { data } }) => (data?.startsUntil || data?.isBehind ? SOON_MS : EVERY_MS),
  });
}
export function usePersonDesk(person: string, isAsked = true) {
  const path = `/api/people/${encodeURIComponent(person)}/desk`;
  return useQuery({
    queryKey: ['/api/desks', path],
    queryFn: () => api<PersonDesk>('GET', path),
    refetchInterval: EVERY_MS,
    enabled: isAsked,
  });
}

/** Who is signed on decides what rings: whatever is shown of reach is asked anew. */
const changed = () => void queryClient.invalidateQueries();
/** Whether the desk is taken by somebody who may be signed off for whoever comes. */
export const mayConfirm = (error: unknown): boolean => isApiError(error) && error.body.mayConfirm === true;

export const useSignOn = () =>
  useMutation({
    mutationFn: ({ desk, ...body }: { desk: string; person: string; confirmed?: boolean }) =>
      api('POST', `/api/desks/${encodeURIComponent(desk)}/sign-on`, body),
    onSuccess: changed,
  });
export const useSignOff = () =>
  useMutation({
    mutationFn: (desk: string) => api('POST', `/api/desks/${encodeURIComponent(desk)}/sign-off`, {}),
    onSettled: changed,
  });
export const usePressAtDesk = () =>
  useMutation({
    mutationFn: ({ desk, ...body }: { desk: string; typed: readonly string[]; tries: DeskTry }) =>
      api<{ readonly heard: readonly string[] }>(
        'POST',
        `/api/desks/${encodeURIComponent(desk)}/press`,
        body,
      ),
    onSettled: changed,
  });
export const useSetBadge = (person: string) =>
  useMutation({
    mutationFn: (digits: string | null) =>
      api('PUT', `/api/people/${encodeURIComponent(person)}/badge`, { digits }),
    onSuccess: changed,
  });

export const useOwnDesks = () =>
  useQuery({
    queryKey: ['/api/desks', 'own'],
    queryFn: () => api<OwnDesks>('GET', '/api/own/desks'),
    refetchInterval: EVERY_MS,
  });
export const useOwnSignOn = () =>
  useMutation({
    mutationFn: ({ desk, ...body }: { desk: string; pin?: string; code?: string; confirmed?: boolean }) =>
      api('POST', `/api/own/desks/${encodeURIComponent(desk)}/sign-on`, body),
    onSuccess: changed,
  });
export const useOwnSignOff = () =>
  useMutation({ mutationFn: () => api('POST', '/api/own/desks/sign-off', {}), onSettled: changed });

export const ROSTERS = '/api/rosters.csv';
export const usePreviewRosters = () =>
  useMutation({
    mutationFn: (bytes: ArrayBuffer) => api<RosterPreview>('POST', '/api/rosters/preview', bytes),
  });
export const useImportRosters = () =>
  useMutation({
    mutationFn: (bytes: ArrayBuffer) => api<{ slate: number }>('POST', '/api/rosters/import', bytes),
    onSuccess: () => void queryClient.invalidateQueries(),
  });

const COLLEAGUES = '/api/own/colleagues';
export const useColleagues = () =>
  useQuery({
    queryKey: [COLLEAGUES],
    queryFn: () => api<Colleagues>('GET', COLLEAGUES),
    refetchInterval: EVERY_MS,
  });
export const useShowMyDesk = () =>
  useMutation({
    mutationFn: (shown: boolean) => api<Colleagues>('PUT', '/api/own/desk-shown', { shown }),
    onSuccess: (page) => queryClient.setQueryData([COLLEAGUES], page),
  });
