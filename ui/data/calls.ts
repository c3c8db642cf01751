import { useInfiniteQuery } from '@tanstack/react-query';
import type { CallsPage } from '../../api/calls';
import { api } from './api';

const EVERY_MS = 15_000;

/** The calls that went, the latest first. @param outcome null: however they ended */
export const useCalls = (text: string, outcome: string | null) =>
  useInfiniteQuery({
    queryKey: ['/api/calls', text, outcome],
    queryFn: ({ pageParam }) =>
      api<CallsPage>(
        'GET',
        `/api/calls/page?${new URLSearchParams({
          text,
          ...(outcome ? { outcome } : {}),
          ...(pageParam === null ? {} : { after: pageParam }),
        })}`,
      ),
    initialPageParam: null as string | null,
    getNextPageParam: ({ next }) => next,
    refetchInterval: EVERY_MS,
  });
