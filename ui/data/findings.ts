import { useMutation, useQuery } from '@tanstack/react-query';
import type { Evidence, Subject, Weight } from '../../core/assurance/checks';
import type { Call } from '../../core/calls/engine';
import type { SlateEntry } from '../../core/changes/slate';
import type { Drill, DrillResult } from '../../core/calls/drills';
import { api } from './api';
import { queryClient } from './data';

/** Shapes of what the server sends; it states them beside its routes. */
export interface Finding {
  readonly key: string;
  readonly check: string;
  readonly subject: Subject;
  readonly weight: Weight;
  readonly says: string;
  readonly evidence?: readonly Evidence[];
  readonly call?: Call;
  readonly mend: string | null;
  readonly isOpen: boolean;
  readonly mark: {
    readonly assignee: string | null;
    readonly putOffUntil: string | null;
    readonly acceptedWhy: string | null;
    readonly by: string;
  } | null;
}
export interface CheckWords {
  readonly id: string;
  readonly title: string;
  readonly looksFor: string;
  readonly why: string;
  readonly weight: Weight;
}
interface Findings {
  readonly findings: readonly Finding[];
  readonly checks: readonly CheckWords[];
}
const FINDINGS = '/api/findings';

/** @param subject `person/ines`; left out: all */
export const useFindings = (subject?: string) => {
  const path = subject ? `${FINDINGS}?subject=${encodeURIComponent(subject)}` : FINDINGS;
  return useQuery({ queryKey: [path], queryFn: () => api<Findings>('GET', path) });
};

const renewFindings = () =>
  void queryClient.invalidateQueries({
    predicate: ({ queryKey }) => String(queryKey[0]).startsWith(FINDINGS),
  });

export interface MarkGiven {
  readonly key: string;
  readonly assignee?: string | null;
  readonly putOffUntil?: string | null;
  readonly acceptedWhy?: string | null;
}
export const useMark = () =>
  useMutation({
    mutationFn: (mark: MarkGiven) => api('PUT', `${FINDINGS}/mark`, mark),
    onSuccess: renewFindings,
  });

export const mendEntries = async (key: string): Promise<readonly SlateEntry[]> =>
  (await api<{ entries: readonly SlateEntry[] }>('POST', `${FINDINGS}/mend`, { key })).entries;

export interface OwedRestart {
  readonly endpoint: string;
  readonly label: string;
  readonly person: string;
  readonly name: string;
  readonly says: string;
  readonly since: string;
  readonly restartAt: string | null;
}
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

export interface DrillNow {
  readonly drill: Drill;
  readonly whom: string;
  readonly ok: number;
  readonly failed: readonly DrillResult[];
}
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
