import { useMutation, useQuery } from '@tanstack/react-query';
import { api } from './api';
import { queryClient } from './data';

/** Shapes of what the server sends; it states them beside its routes. Times ISO 8601. */
export interface OwnSession {
  readonly id: number;
  readonly beganAt: string;
  readonly seenAt: string;
  readonly from: string;
  readonly agent: string;
  readonly isThis: boolean;
}
export interface OwnAccount {
  readonly name: string;
  readonly role: string;
  readonly sessions: readonly OwnSession[];
  readonly secondFactor: { readonly since: string; readonly codesLeft: number } | null;
}

const ACCOUNT = '/api/account';
const refresh = () => void queryClient.invalidateQueries({ queryKey: [ACCOUNT] });

export const useAccount = () =>
  useQuery({ queryKey: [ACCOUNT], queryFn: () => api<OwnAccount>('GET', ACCOUNT) });

export const useEndSession = () =>
  useMutation({
    mutationFn: (id: number) => api('DELETE', `${ACCOUNT}/sessions/${id}`),
    onSettled: refresh,
  });
export const useSetPassword = (onDone: () => void) =>
  useMutation({
    mutationFn: (given: { readonly password: string; readonly next: string }) =>
      api('PUT', `${ACCOUNT}/password`, given),
    onSuccess: () => {
      refresh();
      onDone();
    },
  });

/** The steps to a second factor: the secret for the app, then a code of it; and to be rid of it again. */
export const useSecondFactor = () => ({
  propose: useMutation({
    mutationFn: (password: string) =>
      api<{ readonly secret: string; readonly uri: string }>('POST', `${ACCOUNT}/second-factor`, {
        password,
      }),
  }),
  take: useMutation({
    mutationFn: (code: string) =>
      api<{ readonly codes: readonly string[] }>('PUT', `${ACCOUNT}/second-factor`, { code }),
    onSuccess: refresh,
  }),
  remove: useMutation({
    mutationFn: (password: string) => api('POST', `${ACCOUNT}/second-factor/remove`, { password }),
    onSuccess: refresh,
  }),
});
