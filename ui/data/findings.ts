import { useMutation, useQuery } from '@tanstack/react-query';
import type { SlateEntry } from '../../core/changes/slate';
import type { Drill } from '../../core/calls/drills';
import { api } from './api';
import { queryClient } from './data';
import type { Findings, MarkGiven, OwedRestart, DrillNow } from '../../api/findings';

const FINDINGS = '/api/findings';

/** @param subject `person/ines`; left out: all */
export const useFindings = (subject?: string) => {
  const path = subject ? `${FINDINGS}?subject=${encodeURIComponent(subject)}` : FINDINGS;
  return useQuery({ queryKey: [path], queryFn: () => api<Findings>('GET', path) });
};

/** What is open of one subject. A restart that is owed stands at the top of a person’s page already. */
export const useOpenFindings = (subject: string) => {
  const { data, isPending, isError } = useFindings(subject);
  const open = data?.findings.filter(({ isOpen, check }) => isOpen && check !== 'restart-owed') ?? [];
  return { open, checks: data?.checks ?? [], isPending, isError };
};

const renewFindings = () =>
  void queryClient.invalidateQueries({
    predicate: ({ queryKey }) => String(queryKey[0]).startsWith(FINDINGS),
  });
export const useMark = () =>
  useMutation({
    mutationFn: (mark: MarkGiven) => api('PUT', `${FINDINGS}/mark`, mark),
    onSuccess: renewFindings,
  });

export const mendEntries = async (key: string): Promise<readonly SlateEntry[]> =>
  (await api<{ entries: readonly SlateEntry[] }>('POST', `${FINDINGS}/mend`, { key })).entries;
const RESTARTS = '/api/restarts';
export const useRestarts = () =>
  useQuery({ queryKey: [RESTARTS], queryFn: () => api<{ owed: readonly OwedRestart[] }>('GET', RESTARTS) });
export const useRestart = () =>
  useMutation({
    mutationFn: (body: { readonly endpoints: readonly string[]; readonly when: 'now' | 'tonight' | 'not' }) =>
      api<{ owed: readonly OwedRestart[] }>('POST', RESTARTS, body),
    onSuccess: (answer) => {
      queryClient.setQueryData([RESTARTS], answer);
      renewFindings();
    },
  });
const DRILLS = '/api/drills';
export const useDrills = () =>
  useQuery({ queryKey: [DRILLS], queryFn: () => api<{ drills: readonly DrillNow[] }>('GET', DRILLS) });
export const keepDrill = async (drill: Drill): Promise<DrillNow> => {
  const kept = await api<DrillNow>('PUT', `${DRILLS}/${encodeURIComponent(drill.id)}`, { drill });
  void queryClient.invalidateQueries({ queryKey: [DRILLS] });
  return kept;
};
/** Keeps drills again that were removed, by their entries in the record. */
export const useDrillAgain = () =>
  useMutation({
    mutationFn: (entries: readonly number[]) => api('POST', '/api/record/drill', { entries }),
    onSuccess: () => void queryClient.invalidateQueries(),
  });
export const useRemoveDrill = () =>
  useMutation({
    mutationFn: (id: string) => api('DELETE', `${DRILLS}/${encodeURIComponent(id)}`),
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: [DRILLS] }),
  });
