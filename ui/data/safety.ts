import { useMutation, useQuery } from '@tanstack/react-query';
import type { EmergencyTry, OwnPlaces, SafetyPage } from '../../api/safety';
import type { Civic } from '../../core/estate';
import { api } from './api';
import { queryClient } from './data';

export const useSafety = () =>
  useQuery({ queryKey: ['/api/safety'], queryFn: () => api<SafetyPage>('GET', '/api/safety') });

const MINE = '/api/own/places';
export const useOwnPlaces = () => useQuery({ queryKey: [MINE], queryFn: () => api<OwnPlaces>('GET', MINE) });
export const useSayPlace = () =>
  useMutation({
    mutationFn: (body: { readonly endpoint: string; readonly civic: Civic }) =>
      api<OwnPlaces>('PUT', '/api/own/place', body),
    onSuccess: (places) => queryClient.setQueryData([MINE], places),
  });

/** Dials an emergency number at the stand-in of a phone. */
export const useTryEmergency = (endpoint: string) =>
  useMutation({
    mutationFn: () => api<EmergencyTry>('POST', `/api/safety/${encodeURIComponent(endpoint)}/try`, {}),
  });
