import { useEffect, useState } from 'react';
import { useMutation, useQuery } from '@tanstack/react-query';
import type { PhonesAtStatus, SoundNotes } from '../../core/devices/phones';
import type { Ladder } from '../../core/calls/live';
import type { Call } from '../../core/calls/engine';
import { api, isApiError, hearEvents } from './api';
import { queryClient } from './data';
import type { RegistrationHistory, PhoneDoes, Phones, AccountValues, LiveView } from '../../api/phones';

const PHONES = '/api/phones';
/** Events may come by the hundred; the list is asked for this often at most, in ms. */
const ASK_EVERY_MS = 1500;

/** All phones and who is registered, kept up to date as the server tells of changes. */
export function usePhones() {
  const query = useQuery({ queryKey: [PHONES], queryFn: () => api<Phones>('GET', PHONES) });
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | null = null;
    const stop = hearEvents(`${PHONES}/events`, 'registrations', () => {
      timer ??= setTimeout(() => {
        timer = null;
        void queryClient.invalidateQueries({ queryKey: [PHONES] });
      }, ASK_EVERY_MS);
    });
    return () => {
      stop();
      if (timer) clearTimeout(timer);
    };
  }, []);
  return query;
}

/** When a phone was registered, the latest first. */
export const useRegistrationHistory = (endpoint: string) => {
  const path = `${PHONES}/${encodeURIComponent(endpoint)}/registrations`;
  return useQuery({ queryKey: [path], queryFn: () => api<RegistrationHistory>('GET', path) });
};

export const useSetStandin = (endpoint: string) =>
  useMutation({
    mutationFn: (body: { does: PhoneDoes; answerAfterMs?: number | null }) =>
      api('PUT', `${PHONES}/${encodeURIComponent(endpoint)}/standin`, body),
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: [PHONES] }),
  });
export const useAccount = (endpoint: string, enabled: boolean) => {
  const path = `${PHONES}/${encodeURIComponent(endpoint)}/account`;
  return useQuery({
    queryKey: [path],
    queryFn: () => api<AccountValues>('GET', path),
    enabled,
    // One that was added just now gets its account within seconds.
    retry: (failures, error) => isApiError(error) && error.status === 409 && failures < 10,
    retryDelay: 1000,
  });
};
/** Shows the password once, or makes a new one; either is recorded. */
export const usePassword = (endpoint: string) =>
  useMutation({
    mutationFn: (renew: boolean) =>
      api<AccountValues>(
        'POST',
        `${PHONES}/${encodeURIComponent(endpoint)}/account/password${renew ? '?renew=1' : ''}`,
      ),
    gcTime: 0,
  });

export const startLive = (body: {
  readonly call: Call;
  readonly speed: string;
  readonly asIf?: { readonly person: string; readonly status: string };
}) => api<{ readonly id: string }>('POST', '/api/live', body);
export const stopLive = (id: string) => api('DELETE', `/api/live/${id}`);

/** Follows a try as it happens. */
export function useLive(id: string | null, person: string): LiveView | null {
  const [view, setView] = useState<LiveView | null>(null);
  useEffect(() => {
    if (id === null) return;
    setView(null);
    const stop = hearEvents<LiveView>(
      `/api/live/${id}/events?person=${encodeURIComponent(person)}`,
      'live',
      (live) => {
        setView(live);
        // Nothing more comes: an open line would only be opened again and again.
        if (live.state !== 'running') stop();
      },
    );
    return stop;
  }, [id, person]);
  return view;
}

/** The messages of a call. @param of the address of the call: a try, or one that went */
export const useLadder = (of: string, masked: boolean) => {
  const path = `${of}/ladder${masked ? '?masked=1' : ''}`;
  return useQuery({ queryKey: [path], queryFn: () => api<Ladder>('GET', path) });
};

/** Dials one of the organisation's codes at the stand-in of a phone. */
export const usePressCode = (endpoint: string) =>
  useMutation({
    mutationFn: (body: { code: string; typed: readonly string[] }) =>
      api<{ heard: readonly string[] }>('POST', `${PHONES}/${encodeURIComponent(endpoint)}/press`, body),
    onSuccess: () => void queryClient.invalidateQueries(),
  });

export const useSoundNotes = (endpoint: string) =>
  useMutation({
    mutationFn: (notes: SoundNotes) =>
      api<SoundNotes>('PUT', `${PHONES}/${encodeURIComponent(endpoint)}/notes`, notes),
    onSuccess: () =>
      void queryClient.invalidateQueries({ queryKey: [`${PHONES}/${encodeURIComponent(endpoint)}/account`] }),
  });

/** Which of a person's phones ring and which places their calls, by their status. */
const byStatusPath = (person: string) => `/api/people/${encodeURIComponent(person)}/by-status`;
export const useByStatus = (person: string) =>
  useQuery({
    queryKey: [byStatusPath(person)],
    queryFn: async () =>
      (await api<{ statuses: readonly PhonesAtStatus[] }>('GET', byStatusPath(person))).statuses,
  });
export const useSetCallsFrom = (person: string) =>
  useMutation({
    mutationFn: (body: { status: string; endpoint: string | null }) =>
      api('PUT', `/api/people/${encodeURIComponent(person)}/calls-from`, body),
    onSuccess: () => void queryClient.invalidateQueries(),
  });
