import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import type { CallExplained, CallGoing, CallsAround, CallsPage } from '../../api/calls';
import type { LongWork, LostPage, NightsPage } from '../../api/records';
import { api } from './api';

const EVERY_MS = 15_000;
const GOING_EVERY_MS = 2000;
const ASK_AGAIN_MS = 600;

/** What calls are asked for: nothing where an entry is left out. */
export interface CallsFilter {
  readonly text: string;
  readonly outcome: string | null;
  readonly went: string | null;
  /** ISO 8601 */
  readonly from: string | null;
  readonly to: string | null;
}

/** The calls that went, the latest first. */
export const useCalls = ({ text, ...only }: CallsFilter) =>
  useInfiniteQuery({
    queryKey: ['/api/calls', text, only],
    queryFn: ({ pageParam }) =>
      api<CallsPage>(
        'GET',
        `/api/calls/page?${new URLSearchParams({
          text,
          ...Object.fromEntries(
            Object.entries(only).flatMap(([key, value]) => (value ? [[key, value]] : [])),
          ),
          ...(pageParam === null ? {} : { after: pageParam }),
        })}`,
      ),
    initialPageParam: null as string | null,
    getNextPageParam: ({ next }) => next,
    refetchInterval: EVERY_MS,
  });

const read = <T>(path: string) => ({ queryKey: [path], queryFn: () => api<T>('GET', path) });

/** So soon after a call has ended its messages may still be on their way. */
const MESSAGES_WITHIN_MS = 15_000;
const areOnTheirWay = ({ call, messages }: CallExplained): boolean =>
  messages === 0 &&
  !call.isImported &&
  Date.now() - Date.parse(call.at) - call.atMs - call.talkMs < MESSAGES_WITHIN_MS;

export const useCall = (key: string) =>
  useQuery({
    ...read<CallExplained>(`/api/calls/one/${encodeURIComponent(key)}`),
    refetchInterval: ({ state }) => (state.data && areOnTheirWay(state.data) ? GOING_EVERY_MS : false),
  });

/** The calls to a person around a moment. @param at ms since 1970; null: nothing is asked */
export const useCallsAround = (person: string, at: number | null) =>
  useQuery({
    ...read<CallsAround>(
      `/api/people/${encodeURIComponent(person)}/calls-around?at=${encodeURIComponent(new Date(at ?? 0).toISOString())}`,
    ),
    enabled: at !== null,
  });

/** The calls that are going on now. */
export const useCallsGoing = () =>
  useQuery({
    ...read<{ readonly calls: readonly CallGoing[] }>('/api/calls/going'),
    refetchInterval: GOING_EVERY_MS,
  });

/** Work over many calls: asked about until it is done. @param path null: nothing is asked */
export const useLongWork = <T>(path: string | null) =>
  useQuery({
    ...read<LongWork<T>>(path ?? ''),
    enabled: path !== null,
    refetchInterval: ({ state }) => (state.data?.state === 'running' ? ASK_AGAIN_MS : false),
  });

export const useLost = (days: number) => useQuery(read<LostPage>(`/api/calls/lost?days=${days}`));
export const useNights = () => useQuery(read<NightsPage>('/api/calls/nights'));
