import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query';
import type { Dialling, Route } from '../../core/estate';
import type { TollReport } from '../../core/assurance/checks';
import type { Analysis, NumberWay, RoutedCall, RouteTrace, TwoSystems } from '../../core/routes';
import { api } from './api';
import { queryClient } from './data';
import { useWork } from './objects';
import { useCurrentSlate } from './slates';
import type {
  TableBody,
  ListHead,
  TableAnswer,
  TablePage,
  ListPage,
  ListPreview,
  DiallingPage,
} from '../../api/routing';

const PATH = '/api/routing';
export const NAME = 'the route table';
const pageOf = ({ table, ...rest }: TableAnswer): TablePage => ({
  object: { ...table, name: NAME },
  ...rest,
});
export const bodyOf = ({ name: _name, ...body }: TablePage['object']): TableBody => body;

/** Names the slate in work, whose lists go before those live. */
const asked = (slate: number | null, more = '') => {
  const query = [more, slate === null ? '' : `slate=${slate}`].filter(Boolean).join('&');
  return query === '' ? '' : `?${query}`;
};

export function useRouting() {
  const slate = useCurrentSlate().slate?.id ?? null;
  return useQuery({
    queryKey: [PATH, slate],
    queryFn: async () => pageOf(await api<TableAnswer>('GET', `${PATH}${asked(slate)}`)),
    // Another slate shows other lists: what is being typed or changed beside them stays where it is.
    placeholderData: keepPreviousData,
  });
}

export const useTableWork = (page: TablePage) =>
  useWork<TablePage['object'], TablePage>(
    page,
    async (version, object) =>
      pageOf(await api<TableAnswer>('PUT', PATH, { version, table: bodyOf(object) })),
    () => void queryClient.invalidateQueries({ queryKey: [PATH] }),
    {
      kind: 'routing',
      id: 'routing',
      out: bodyOf,
      in: (table) => ({ ...(table as TableBody), name: NAME }),
    },
  );

/** What is wrong in a table, the live one or a draft. */
export function useAnalysis(table: TableBody | undefined, lists: readonly ListHead[]) {
  const slate = useCurrentSlate().slate?.id ?? null;
  return useQuery({
    queryKey: [`${PATH}/analysis`, table ?? null, lists.map(({ id, version }) => `${id} ${version}`), slate],
    queryFn: () => api<Analysis>('POST', `${PATH}/analysis${asked(slate)}`, table ? { table } : {}),
    placeholderData: keepPreviousData,
  });
}

export function useRouteTrace(table: TableBody, call: RoutedCall | null) {
  const slate = useCurrentSlate().slate?.id ?? null;
  return useQuery({
    queryKey: [`${PATH}/trace`, table, call, slate],
    queryFn: async () =>
      (await api<{ trace: RouteTrace }>('POST', `${PATH}/trace${asked(slate)}`, { table, call })).trace,
    enabled: call !== null,
    retry: false,
  });
}

export function useProposal() {
  const slate = useCurrentSlate().slate?.id ?? null;
  return useMutation({
    mutationFn: (sent: { table: TableBody; asked: TwoSystems }) =>
      api<{ table: TableBody; route: Route }>('POST', `${PATH}/two-systems${asked(slate)}`, sent),
  });
}

/** The whole way of what somebody types at a person's line. */
export const useWays = (numbers: readonly string[], person: string | null) =>
  useQuery({
    queryKey: [`${PATH}/way`, numbers, person],
    queryFn: async () =>
      (await api<{ ways: readonly NumberWay[] }>('POST', `${PATH}/way`, { numbers, person })).ways,
    enabled: person !== null && numbers.length > 0,
    placeholderData: keepPreviousData,
  });
const listPath = (id: string) => `${PATH}/lists/${encodeURIComponent(id)}`;
export function useNumberList(id: string, search: string) {
  const slate = useCurrentSlate().slate?.id ?? null;
  return useQuery({
    queryKey: [PATH, listPath(id), search, slate],
    queryFn: () =>
      api<ListPage>('GET', `${listPath(id)}${asked(slate, `search=${encodeURIComponent(search)}`)}`),
    placeholderData: keepPreviousData,
  });
}
const askedFor = (query: Readonly<Record<string, string | undefined>>): string =>
  Object.entries(query)
    .flatMap(([key, value]) => (value === undefined ? [] : [`${key}=${encodeURIComponent(value)}`]))
    .join('&');

export const useListPreview = () =>
  useMutation({
    mutationFn: ({ file, ...query }: { file: Blob; list?: string; field?: string }) =>
      api<ListPreview>('POST', `${PATH}/lists/read?${askedFor(query)}`, file),
  });
const refresh = () => void queryClient.invalidateQueries();
export const useWriteList = () =>
  useMutation({
    mutationFn: ({ file, id, ...query }: { file: Blob; id: string; name: string; field?: string }) =>
      api('PUT', `${listPath(id)}?${askedFor(query)}`, file),
    onSuccess: refresh,
  });
export const useBringBackList = () =>
  useMutation({ mutationFn: (id: string) => api('POST', `${listPath(id)}/bring-back`), onSuccess: refresh });
export const useRemoveList = () =>
  useMutation({
    mutationFn: (id: string) =>
      api<{ id: string; name: string; numbers: readonly string[] }>('DELETE', listPath(id)),
    onSuccess: refresh,
  });
export const useDialling = () =>
  useQuery({ queryKey: ['/api/dialling'], queryFn: () => api<DiallingPage>('GET', '/api/dialling') });

export const useGuard = () =>
  useQuery({ queryKey: ['/api/guard'], queryFn: () => api<TollReport>('GET', '/api/guard') });

export const useSetDialling = () =>
  useMutation({
    mutationFn: (sent: { dialling: Dialling; before: Dialling }) => api('PUT', '/api/dialling', sent),
    onSuccess: refresh,
  });

export const useSetOrder = (kind: 'permission' | 'trunk') =>
  useMutation({
    mutationFn: (ids: readonly string[]) => api('PUT', `/api/order/${kind}`, { ids }),
    onSuccess: refresh,
  });
