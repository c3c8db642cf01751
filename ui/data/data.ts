import { QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Difference } from '../../core/editing';
import type { Estate, Person, Status } from '../../core/estate';
import type { Call } from '../../core/calls/engine';
import type { Judgement, ReachState, Tried } from '../../core/calls/views';
import type { Behind } from '../../core/changes/restarts';
import { api, isApiError } from './api';

/** Shapes of what the server sends; it states them beside its routes. */
export interface PersonSummary {
  readonly id: string;
  readonly name: string;
  readonly extension: string;
  readonly numbers: readonly string[];
  readonly status: string;
  readonly reach: ReachState;
}
export interface PeopleList {
  readonly revision: number;
  readonly people: readonly PersonSummary[];
  readonly statuses: readonly Status[];
}
export interface PersonPage {
  readonly person: Person;
  readonly version: number;
  readonly slice: Estate;
  readonly behind: readonly Behind[];
}
export interface NamedPerson {
  readonly id: string;
  readonly name: string;
  readonly extension: string;
  readonly why: string;
}
export interface RecordLine {
  readonly id: number;
  readonly at: string;
  readonly who: string;
  readonly kind: string;
  readonly personId: string | null;
  readonly subject: string;
  readonly detail: string;
  readonly why?: string;
  readonly slateId?: number | null;
  readonly canTakeBack?: boolean;
  readonly changes: readonly Difference[];
}
export interface Today {
  readonly organisation: string;
  readonly timeZone: string;
  readonly people: number;
  readonly counts: Readonly<Record<ReachState, number>>;
  readonly lost: readonly NamedPerson[];
  readonly atRisk: readonly NamedPerson[];
  readonly forwarded: readonly Omit<NamedPerson, 'why'>[];
  readonly record: readonly RecordLine[];
}

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

export const usePeople = () => useQuery(get<PeopleList>('/api/people'));
export const useToday = () => useQuery(get<Today>('/api/today'));
export const personKey = (id: string) => `/api/people/${encodeURIComponent(id)}`;
export const usePersonPage = (id: string) => useQuery(get<PersonPage>(personKey(id)));
export const useJudgement = (id: string) => useQuery(get<Judgement>(`${personKey(id)}/judgement`));
/** @param filter as a query: `person=ines&kind=status-set` */
export const useRecord = (before: number | null, filter = '') =>
  useQuery(
    get<{ entries: readonly RecordLine[]; more: boolean }>(
      `/api/record?${[filter, before ? `before=${before}` : ''].filter(Boolean).join('&')}`,
    ),
  );

/** A try run by the server, for those whose browser has no private numbers. */
export const useServerTry = (call: Call | null, person: string, version: number, enabled: boolean) =>
  useQuery({
    queryKey: ['/api/tries', person, version, call],
    queryFn: () => api<Tried>('POST', `/api/tries?person=${encodeURIComponent(person)}`, call),
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
