import { useEffect, useMemo } from 'react';
import { useMutation, useQuery } from '@tanstack/react-query';
import type { OwnSeats, SeatNowPage, SeatStatesPage } from '../../api/seats';
import type { Estate, SeatPhone } from '../../core/estate';
import type { SeatInCall } from '../../core/calls/engine';
import { api } from './api';
import { queryClient } from './data';
import { meetPerson } from './met';

/** How often who is at seats is asked again, ms. */
const EVERY_MS = 10_000;
const NOW = '/api/seats/now';
const path = (seat: string, what: string) => `/api/seats/${encodeURIComponent(seat)}/${what}`;

export const useSeatStates = (isAsked = true) =>
  useQuery({
    queryKey: ['/api/seats', NOW],
    queryFn: () => api<SeatStatesPage>('GET', NOW),
    refetchInterval: EVERY_MS,
    enabled: isAsked,
  });
export const useSeatNow = (seat: string) =>
  useQuery({
    queryKey: ['/api/seats', seat],
    queryFn: () => api<SeatNowPage>('GET', path(seat, 'now')),
    refetchInterval: EVERY_MS,
  });

/** Whoever is at seats of a slice now, as the world of a call has it; whose phone is not in the slice is met. */
export function useSeatsNow(slice: Estate, isAsked: boolean): Readonly<Record<string, SeatInCall>> {
  const states = useSeatStates(isAsked && (slice.seats?.length ?? 0) > 0);
  const { people } = slice;
  const sitting = states.data?.seats;
  useEffect(() => {
    for (const { at, person } of Object.values(sitting ?? {}))
      if ('endpoint' in at && !people.some(({ id }) => id === person)) void meetPerson(person);
  }, [sitting, people]);
  return useMemo(() => {
    const now = Date.now();
    return Object.fromEntries(
      Object.entries(isAsked ? (sitting ?? {}) : {}).map(([id, { person, at, state, calls, idleSince }]) => [
        id,
        { person, at, state, calls, idleMs: Math.max(0, now - Date.parse(idleSince)) },
      ]),
    );
  }, [sitting, isAsked]);
}

const changed = () => void queryClient.invalidateQueries();
interface On {
  readonly at: SeatPhone;
  readonly confirmed?: boolean;
}
export const useSeatOn = (seat: string) =>
  useMutation({
    mutationFn: (body: On & { readonly person: string }) => api('POST', path(seat, 'sign-on'), body),
    onSuccess: changed,
  });
export const useSeatOff = (seat: string) =>
  useMutation({ mutationFn: () => api('POST', path(seat, 'sign-off'), {}), onSettled: changed });
export const useSeatPaused = (seat: string) =>
  useMutation({
    mutationFn: (why: string | null) => api('PUT', path(seat, 'paused'), { why }),
    onSettled: changed,
  });
export const useSeatPassword = (seat: string) =>
  useMutation({
    mutationFn: (password: string | null) => api('PUT', path(seat, 'password'), { password }),
    onSuccess: changed,
  });

const own = (seat: string, what: string) => `/api/own/seats/${encodeURIComponent(seat)}/${what}`;
export const useOwnSeats = () =>
  useQuery({
    queryKey: ['/api/seats', 'own'],
    queryFn: () => api<OwnSeats>('GET', '/api/own/seats'),
    refetchInterval: EVERY_MS,
  });
export const useOwnSeatOn = () =>
  useMutation({
    mutationFn: ({ seat, ...body }: On & { readonly seat: string; readonly password?: string }) =>
      api('POST', own(seat, 'sign-on'), body),
    onSuccess: changed,
  });
export const useOwnSeatOff = () =>
  useMutation({ mutationFn: (seat: string) => api('POST', own(seat, 'sign-off'), {}), onSettled: changed });
export const useOwnSeatPaused = () =>
  useMutation({
    mutationFn: ({ seat, why }: { readonly seat: string; readonly why: string | null }) =>
      api('PUT', own(seat, 'paused'), { why }),
    onSettled: changed,
  });
