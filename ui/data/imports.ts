import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { PlannedRow, StaffColumns } from '../../core/formats';
import { api } from './api';
import type { ImportStatus } from '../../api/imports';

const POLL_MS = 250;
const path = (id: number) => `/api/imports/${id}`;

/** An import as it goes: asked again and again while it is being read or written. */
export const useImport = (id: number | null) =>
  useQuery({
    queryKey: ['/api/imports', id],
    queryFn: () => api<ImportStatus>('GET', path(id ?? 0)),
    enabled: id !== null,
    refetchInterval: ({ state }) =>
      state.data && (state.data.state === 'reading' || state.data.state === 'writing') ? POLL_MS : false,
  });

export const useImportRows = (id: number, action: PlannedRow['action'], ready: boolean) =>
  useQuery({
    queryKey: ['/api/imports', id, 'rows', action],
    queryFn: () =>
      api<{ rows: readonly PlannedRow[]; more: boolean }>('GET', `${path(id)}/rows?action=${action}`),
    enabled: ready,
    staleTime: 0,
  });

export function useImportSteps(onStarted: (id: number) => void) {
  const client = useQueryClient();
  const again = () => client.invalidateQueries({ queryKey: ['/api/imports'] });
  return {
    start: useMutation({
      mutationFn: (bytes: ArrayBuffer) => api<{ id: number }>('POST', '/api/imports', bytes),
      onSuccess: ({ id }) => onStarted(id),
    }),
    choose: useMutation({
      mutationFn: ({ id, ...choice }: { id: number; readAs: string | null; columns: StaffColumns | null }) =>
        api('PUT', path(id), choice),
      onSuccess: again,
    }),
    write: useMutation({
      mutationFn: (id: number) => api('POST', `${path(id)}/write`, {}),
      onSuccess: again,
    }),
  };
}
