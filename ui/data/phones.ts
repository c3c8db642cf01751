import { useEffect, useState } from 'react';
import { useMutation, useQuery } from '@tanstack/react-query';
import type { EndpointKind, Settings } from '../../core/estate';
import type { PhonesAtStatus, SoundNotes } from '../../core/devices/phones';
import type { Departure, Ladder } from '../../core/calls/live';
import type { Call } from '../../core/calls/engine';
import type { Strip } from '../../core/calls/views';
import { api, hearEvents } from './api';
import { queryClient } from './data';

/** Shapes of what the server sends; it states them beside its routes. */
export interface Registration {
  readonly user: string;
  readonly endpoint: string | null;
  readonly contact: string;
  readonly from: { readonly transport: 'udp' | 'tcp' | 'tls'; readonly host: string; readonly port: number };
  readonly sinceMs: number;
  readonly refreshedMs: number;
  readonly expiresMs: number;
  readonly roundTripMs: number | null;
  readonly userAgent: string;
  readonly asleep: boolean;
}
export interface LostPhone {
  readonly user: string;
  readonly endpoint: string | null;
  readonly lostMs: number;
  readonly why: 'removed' | 'expired' | 'refused';
  readonly detail: string;
}
export type PhoneDoes =
  | 'ready'
  | 'answers'
  | 'off'
  | 'asleep'
  | 'no-coverage'
  | 'busy'
  | 'do-not-disturb'
  | 'answers-by-itself'
  | 'wrong-password'
  | 'old-firmware'
  | 'bare';
export interface PhoneRow {
  readonly endpoint: string;
  readonly label: string;
  readonly kind: EndpointKind;
  readonly person: string;
  readonly name: string;
  readonly extension: string | null;
  readonly does: PhoneDoes;
  readonly answerAfterMs: number | null;
}
export interface SystemPlace {
  readonly realm: string;
  readonly address: string;
  readonly udp: number;
  readonly tcp: number;
  readonly tls: number;
}
export interface Phones {
  readonly place: SystemPlace | null;
  readonly registrations: readonly Registration[];
  readonly lost: readonly LostPhone[];
  /** What people have ticked for the apps on their mobiles. */
  readonly checks: readonly { readonly endpoint: string; readonly item: string; readonly doneAt: string }[];
  readonly phones: readonly PhoneRow[];
}

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

export const useSetStandin = (endpoint: string) =>
  useMutation({
    mutationFn: (body: { does: PhoneDoes; answerAfterMs?: number | null }) =>
      api('PUT', `${PHONES}/${encodeURIComponent(endpoint)}/standin`, body),
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: [PHONES] }),
  });

export interface AccountValues {
  readonly user: string;
  readonly server: string | null;
  readonly realm: string | null;
  readonly ports: { readonly udp: number; readonly tcp: number; readonly tls: number } | null;
  readonly password?: string;
  /** Where softphones register by where they are, as the organisation has set it. */
  readonly servers?: NonNullable<Settings['servers']>;
  readonly notes?: SoundNotes;
  /** From which phones their person places calls, as a sentence. */
  readonly placing?: string;
}
export const useAccount = (endpoint: string, enabled: boolean) => {
  const path = `${PHONES}/${encodeURIComponent(endpoint)}/account`;
  return useQuery({ queryKey: [path], queryFn: () => api<AccountValues>('GET', path), enabled });
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

/** A try over the stand-ins, as far as it has come. */
export interface LiveView {
  readonly id: string;
  readonly state: 'running' | 'done' | 'failed';
  readonly speed: number;
  readonly why: string | null;
  readonly predicted: Strip;
  readonly seen: Strip | null;
  readonly departures: readonly Departure[] | null;
  readonly toleranceMs: number | null;
  readonly sound: { readonly fromCaller: number; readonly fromCalled: number } | null;
  readonly heard: readonly string[] | null;
  readonly status: number | null;
  readonly messages: number | null;
}

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

export const useLadder = (id: string, masked: boolean, enabled: boolean) => {
  const path = `/api/live/${id}/ladder${masked ? '?masked=1' : ''}`;
  return useQuery({ queryKey: [path], queryFn: () => api<Ladder>('GET', path), enabled });
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
export const useSetPlaces = (person: string) =>
  useMutation({
    mutationFn: (body: { status: string; endpoint: string | null }) =>
      api('PUT', `/api/people/${encodeURIComponent(person)}/places`, body),
    onSuccess: () => void queryClient.invalidateQueries(),
  });
