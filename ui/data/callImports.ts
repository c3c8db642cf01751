import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { CallImport } from '../../api/calls';
import type { CallChoices } from '../../core/records';
import { api } from './api';

const LIST = ['/api/call-imports'];
const oneKey = (id: number) => [`/api/call-imports/${id}`];
const ASK_AGAIN_MS = 700;

export const useCallImports = () =>
  useQuery({
    queryKey: LIST,
    queryFn: () => api<{ readonly imports: readonly CallImport[] }>('GET', '/api/call-imports'),
  });

/** One import, asked about again while it is worked on. */
export const useCallImport = (id: number | null) =>
  useQuery({
    queryKey: oneKey(id ?? 0),
    queryFn: () => api<CallImport>('GET', `/api/call-imports/${id}`),
    enabled: id !== null,
    refetchInterval: ({ state }) =>
      state.data?.state === 'looking' || state.data?.state === 'taking' ? ASK_AGAIN_MS : false,
  });

/** Sends a file part by part, then has it looked through. @param onSent told how much of it has been sent, 0 to 1 */
export async function sendCalls(file: File, onSent: (share: number) => void): Promise<number> {
  const { id, partBytes } = await api<{ id: number; partBytes: number }>(
    'POST',
    `/api/call-imports?name=${encodeURIComponent(file.name)}`,
  );
  for (let at = 0, part = 0; at < file.size; at += partBytes, part += 1) {
    await api('PUT', `/api/call-imports/${id}/parts/${part}`, file.slice(at, at + partBytes));
    onSent(Math.min(1, (at + partBytes) / file.size));
  }
  await api('POST', `/api/call-imports/${id}/look`, {});
  return id;
}

/** What can be done with an import. */
export function useCallImportWork(id: number) {
  const client = useQueryClient();
  const again = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: oneKey(id) }),
      client.invalidateQueries({ queryKey: LIST }),
    ]);
  const step = (name: 'take' | 'stop') => () => api('POST', `/api/call-imports/${id}/${name}`);
  return {
    look: useMutation({
      mutationFn: (choices: Partial<CallChoices>) => api('POST', `/api/call-imports/${id}/look`, choices),
      onSettled: again,
    }),
    take: useMutation({ mutationFn: step('take'), onSettled: again }),
    stop: useMutation({ mutationFn: step('stop'), onSettled: again }),
    remove: useMutation({ mutationFn: () => api('DELETE', `/api/call-imports/${id}`), onSettled: again }),
  };
}
