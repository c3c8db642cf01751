import { useMutation, useQuery } from '@tanstack/react-query';
import { api } from './api';
import { queryClient } from './data';
import type { OwnAccount } from '../../api/account';

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
