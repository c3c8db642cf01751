import { QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Call } from '../../core/calls/engine';
import type { Judgement, Tried } from '../../core/calls/views';
import { api, isApiError } from './api';
import type { NewPerson } from '../../core/editing';
import type { AddedPerson, NewPersonPage, PersonPage, RecordLine, Today } from '../../api/people';

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 15_000,
      retry: (failures, error) => isApiError(error) && error.status === 0 && failures < 2,
      networkMode: 'always',
    },
    mutations: { networkMode: 'always' },
  },
});

const get = <T>(path: string) => ({ queryKey: [path], queryFn: () => api<T>('GET', path) });

/** What is proposed for somebody new, asked for anew each time. */
export const useNewPerson = () =>
  useQuery({ ...get<NewPersonPage>('/api/new-person'), gcTime: 0, staleTime: 0 });
/** Adds somebody; whatever counts people is asked for again. */
export const useAddPerson = () =>
  useMutation({
    mutationFn: (given: NewPerson) => api<AddedPerson>('POST', '/api/people', given),
    onSuccess: () => queryClient.invalidateQueries(),
  });
export const useToday = () => useQuery(get<Today>('/api/today'));
export const personKey = (id: string) => `/api/people/${encodeURIComponent(id)}`;
/** When the next phone of a shared desk has started again for whoever signed on there, ms from now; false: none is. */
function untilStarted(page: PersonPage | undefined): number | false {
  const untils = Object.values(page?.signedOn ?? {}).flatMap(({ startsUntil }) => startsUntil ?? []);
  if (untils.length === 0) return false;
  return Math.max(500, Math.min(...untils.map((until) => Date.parse(until) - Date.now())));
}
export const usePersonPage = (id: string) =>
  useQuery({
    ...get<PersonPage>(personKey(id)),
    refetchInterval: ({ state }) => untilStarted(state.data),
  });
export const useJudgement = (id: string) => useQuery(get<Judgement>(`${personKey(id)}/judgement`));
/** @param filter as a query: `person=ines&kind=status-set` */
export const useRecord = (before: number | null, filter = '') =>
  useQuery(
    get<{ entries: readonly RecordLine[]; more: boolean }>(
      `/api/record?${[filter, before ? `before=${before}` : ''].filter(Boolean).join('&')}`,
    ),
  );

/** A try run by the server, for those whose browser has no private numbers. */
export const useServerTry = (
  call: Call | null,
  person: string,
  version: number,
  enabled: boolean,
  isNow: boolean,
) =>
  useQuery({
    queryKey: ['/api/tries', person, version, call, isNow],
    queryFn: () =>
      api<Tried>('POST', `/api/tries?person=${encodeURIComponent(person)}${isNow ? '&seats=now' : ''}`, call),
    enabled: enabled && call !== null,
    placeholderData: (before) => before,
  });

/** Something done to one person on the server; what the pages show is brought up to date from the answer. */
export function useChangePerson<T>(id: string, method: 'PUT', path: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: T) => api<PersonPage>(method, `${personKey(id)}${path}`, body),
    onSuccess: (page) => {
      client.setQueryData([personKey(id)], page);
      for (const key of ['/api/people', '/api/today', '/api/record', `${personKey(id)}/judgement`])
        void client.invalidateQueries({ queryKey: [key] });
    },
  });
}
