import { useMutation, useQuery } from '@tanstack/react-query';
import type { OwnPlaces, SafetyPage } from '../../api/safety';
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
