import type { AccountValues } from '../../api/phones';
import { useMutation, useQuery } from '@tanstack/react-query';
import type { OwnLimits, Wish } from '../../core/changes/own';
import { api, isApiError } from './api';
import { queryClient } from './data';

import type { OwnRequest, OwnPage } from '../../api/own';

const ME = '/api/me';
export const useOwnPage = () => useQuery({ queryKey: [ME], queryFn: () => api<OwnPage>('GET', ME) });
const put = (page: OwnPage) => queryClient.setQueryData([ME], page);

/** Does what is wanted; where it goes beyond the limits the error says so, and it can be asked for. */
export const useWish = () =>
  useMutation({
    mutationFn: (wish: Wish) => api<OwnPage>('POST', `${ME}/wishes`, { wish }),
    onSuccess: put,
  });
export const mayAsk = (error: unknown): boolean => isApiError(error) && error.body.mayAsk === true;
export const useAskFor = () =>
  useMutation({
    mutationFn: (body: { readonly wish: Wish; readonly note: string }) =>
      api<OwnPage>('POST', `${ME}/requests`, body),
    onSuccess: put,
  });
export const useTakeBackRequest = () =>
  useMutation({ mutationFn: (id: number) => api<OwnPage>('DELETE', `${ME}/requests/${id}`), onSuccess: put });
export const useNote = () =>
  useMutation({
    mutationFn: (body: {
      readonly note: string;
      readonly at: string | null;
      readonly until: string | null;
    }) => api<OwnPage>('PUT', `${ME}/note`, body),
    onSuccess: put,
  });
export const useTick = () =>
  useMutation({
    mutationFn: (body: { readonly endpoint: string; readonly item: string; readonly done: boolean }) =>
      api<OwnPage>('PUT', `${ME}/checks`, body),
    onSuccess: put,
  });
export const useSetOwnPin = () =>
  useMutation({
    mutationFn: (pin: string) => api<OwnPage>('POST', `${ME}/pin`, { pin }),
    onSuccess: put,
    gcTime: 0,
  });
/** The values of one's own softphone, with its password; each showing is recorded. */
export const useOwnHandover = (endpoint: string) =>
  useMutation({
    mutationFn: () => api<AccountValues>('POST', `${ME}/handover/${encodeURIComponent(endpoint)}`, {}),
    gcTime: 0,
  });
export const tryMine = () => api<{ readonly id: string; readonly mobile: string }>('POST', `${ME}/try`, {});

/** The specialist's side: what people ask for, and what they may do themselves. */
const REQUESTS = '/api/own/requests';
export const useRequests = () =>
  useQuery({
    queryKey: [REQUESTS],
    queryFn: () =>
      api<{ readonly requests: readonly (OwnRequest & { readonly name: string })[] }>('GET', REQUESTS),
  });
export const useAnswerRequest = () =>
  useMutation({
    mutationFn: ({
      id,
      ...body
    }: {
      readonly id: number;
      readonly grant: boolean;
      readonly answer: string;
    }) => api('POST', `${REQUESTS}/${id}`, body),
    onSuccess: () => void queryClient.invalidateQueries(),
  });
const limitsPath = (person: string | null) =>
  `/api/own/limits${person === null ? '' : `?person=${encodeURIComponent(person)}`}`;
export const useLimits = (person: string | null) =>
  useQuery({
    queryKey: [limitsPath(person)],
    queryFn: () => api<{ readonly limits: OwnLimits; readonly isOwn: boolean }>('GET', limitsPath(person)),
  });
export const useSetLimits = (person: string | null) =>
  useMutation({
    mutationFn: (limits: OwnLimits | null) => api('PUT', limitsPath(person), { limits }),
    onSuccess: () => void queryClient.invalidateQueries(),
  });
export const useGiveSignIn = (person: string) =>
  useMutation({
    mutationFn: () =>
      api<{ readonly name: string; readonly password: string }>(
        'POST',
        `/api/people/${encodeURIComponent(person)}/sign-in`,
        {},
      ),
    gcTime: 0,
  });
