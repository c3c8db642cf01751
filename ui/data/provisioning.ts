import { useMutation, useQuery } from '@tanstack/react-query';
import type { PlacedFault } from '../../core/formats';
import type { Credential, ProvisioningPolicy, ProvisioningState } from '../../core/devices/provisioning';
import { api, isApiError } from './api';
import { queryClient } from './data';
import type { ProvisioningEvent, ProvisioningPage, ListedRow, GivenCode } from '../../api/provisioning';

export type { Credential, ProvisioningPolicy, ProvisioningState };

const PATH = '/api/provisioning';
/** How often the list is asked for while phones are setting themselves up, and else, in ms. */
const BUSY_MS = 1500;
const QUIET_MS = 10_000;

export const useProvisioning = () =>
  useQuery({
    queryKey: [PATH],
    queryFn: () => api<ProvisioningPage>('GET', PATH),
    refetchInterval: ({ state }) =>
      state.data?.phones.some((phone) => phone.state !== 'registered' || phone.isBehind) === true
        ? BUSY_MS
        : QUIET_MS,
  });
export const useProvisioningEvents = (address: string) =>
  useQuery({
    queryKey: [PATH, address],
    queryFn: async () =>
      (await api<{ events: readonly ProvisioningEvent[] }>('GET', `${PATH}/${address}/events`)).events,
    refetchInterval: BUSY_MS,
  });

const renew = () => void queryClient.invalidateQueries();
const took = (page: ProvisioningPage) => {
  queryClient.setQueryData([PATH], page);
  void queryClient.invalidateQueries({ queryKey: [PATH] });
};

export const useReadPhones = () =>
  useMutation({
    mutationFn: async (file: Blob) =>
      (await api<{ rows: readonly ListedRow[] }>('POST', `${PATH}/list/read`, file)).rows,
  });
export const useTakePhones = () =>
  useMutation({
    mutationFn: (file: Blob) => api<{ phones: readonly string[] }>('POST', `${PATH}/list`, file),
    onSuccess: renew,
  });
export const useAddPhone = () =>
  useMutation({
    mutationFn: (body: { address: string; model: string; person: string; name?: string }) =>
      api('POST', PATH, body),
    onSuccess: renew,
  });
export const useGiveCodes = () =>
  useMutation({
    mutationFn: (addresses: readonly string[]) =>
      api<{ codes: readonly GivenCode[]; until: string }>('POST', `${PATH}/codes`, { addresses }),
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: [PATH] }),
    gcTime: 0,
  });
export const plugIn = async (
  address: string,
  body: { typed?: string; firmware?: string; form?: 'json' | 'xml' },
): Promise<void> => {
  await api('POST', `${PATH}/${address}/plug-in`, body);
  void queryClient.invalidateQueries({ queryKey: [PATH] });
};
export const usePlugIn = (address: string) =>
  useMutation({ mutationFn: (body: Parameters<typeof plugIn>[1]) => plugIn(address, body) });

/** What can be done with one phone of the list. */
export function useProvisioningWork(address: string) {
  return {
    unlock: useMutation({
      mutationFn: () => api<ProvisioningPage>('POST', `${PATH}/${address}/unlock`),
      onSuccess: took,
    }),
    anew: useMutation({
      mutationFn: () => api<ProvisioningPage>('POST', `${PATH}/${address}/anew`),
      onSuccess: took,
    }),
    takeOff: useMutation({
      mutationFn: () => api<ProvisioningPage>('DELETE', `${PATH}/${address}`),
      onSuccess: took,
    }),
  };
}
export const usePush = () =>
  useMutation({
    mutationFn: (devices: readonly string[]) =>
      api<{ pushed: number; absent: number }>('POST', `${PATH}/push`, { devices }),
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: [PATH] }),
  });
export const useSetPolicy = () =>
  useMutation({
    mutationFn: (policy: ProvisioningPolicy) => api<ProvisioningPage>('PUT', `${PATH}/policy`, policy),
    onSuccess: took,
  });
const imagePath = ({ model, version }: { model: string; version: string }) =>
  `${PATH}/firmware/${encodeURIComponent(model)}/${encodeURIComponent(version)}`;
export const useAddImage = () =>
  useMutation({
    mutationFn: ({ file, ...which }: { file: Blob; model: string; version: string }) =>
      api<ProvisioningPage>('PUT', imagePath(which), file),
    onSuccess: took,
  });
export const useRemoveImage = () =>
  useMutation({
    mutationFn: (which: { model: string; version: string }) =>
      api<ProvisioningPage>('DELETE', imagePath(which)),
    onSuccess: took,
  });
export const useAddAuthority = () =>
  useMutation({
    mutationFn: (body: { name: string; certificate: string }) =>
      api<ProvisioningPage>('POST', `${PATH}/authorities`, body),
    onSuccess: took,
  });
export const useRemoveAuthority = () =>
  useMutation({
    mutationFn: (id: number) => api<ProvisioningPage>('DELETE', `${PATH}/authorities/${id}`),
    onSuccess: took,
  });

const pinPath = (person: string) => `/api/people/${encodeURIComponent(person)}/pin`;
export const usePinState = (person: string) =>
  useQuery({
    queryKey: [pinPath(person)],
    queryFn: () => api<{ setAt: string | null }>('GET', pinPath(person)),
  });
/** Gives a person a PIN: the one sent, or one that is made and shown this once. */
export const useSetPin = (person: string) =>
  useMutation({
    mutationFn: (pin: string | null) =>
      api<{ pin: string | null }>('POST', pinPath(person), pin === null ? {} : { pin }),
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: [pinPath(person)] }),
    gcTime: 0,
  });

export const useRemovePin = (person: string) =>
  useMutation({
    mutationFn: () => api('DELETE', pinPath(person)),
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: [pinPath(person)] }),
  });

/** The faults of a file that could not be read, by line. */
export const placedFaults = (error: unknown): readonly PlacedFault[] =>
  isApiError(error) ? ((error.body.placed as readonly PlacedFault[] | undefined) ?? []) : [];
