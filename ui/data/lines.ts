import { useMutation, useQuery } from '@tanstack/react-query';
import type { LineCheck, LineMeasured, LineTools } from '../../api/lines';
import { api } from './api';
import { queryClient } from './data';

const MINE = '/api/me/lines';
interface MyLines {
  readonly sites: readonly { readonly id: string; readonly name: string }[];
  readonly lines: readonly LineCheck[];
}
export const useMyLines = () => useQuery({ queryKey: [MINE], queryFn: () => api<MyLines>('GET', MINE) });
export const beginLine = () => api<LineTools>('POST', `${MINE}/begin`, {});
export const useSendLine = () =>
  useMutation({
    mutationFn: (body: {
      readonly site: string | null;
      readonly place: string | null;
      readonly measured: LineMeasured;
    }) => api<MyLines>('POST', MINE, body),
    onSuccess: (mine) => queryClient.setQueryData([MINE], mine),
  });

/** What was measured at a site, or by a person. */
export function useLines(of: 'site' | 'person', id: string) {
  const path = `/api/lines?${of}=${encodeURIComponent(id)}`;
  return useQuery({
    queryKey: [path],
    queryFn: () => api<{ readonly lines: readonly LineCheck[] }>('GET', path),
  });
}
