import { useMutation, useQuery } from '@tanstack/react-query';
import type { Call } from '../../core/calls/engine';
import type { Strip } from '../../core/calls/views';
import type { DrillResult } from '../../core/calls/drills';
import type { SlateEntry, EntryKind } from '../../core/changes/slate';
import { api, apiProblem, isApiError, isUnknown } from './api';
import { queryClient } from './data';
import { useSession } from './session';
import { useSlateInWork } from './slate';
import type { Slate, ImpactState, SlatePage, Refused, SlatePatch } from '../../api/slates';

export const isOpen = ({ state }: Slate): boolean => ['work', 'timed', 'held'].includes(state);
const LIST = '/api/slates';
export const slatePath = (id: number) => `${LIST}/${id}`;

export const useSlates = (enabled = true) =>
  useQuery({
    queryKey: [LIST],
    queryFn: () => api<{ slates: readonly Slate[] }>('GET', LIST),
    enabled,
    refetchInterval: 30_000,
  });
/** The slate in work: the one chosen, or the one of one's own that was changed last. */
export function useCurrentSlate() {
  const { account } = useSession();
  const chosen = useSlateInWork((state) => state.current);
  const slates = useSlates(account?.role === 'specialist').data?.slates.filter(isOpen) ?? [];
  const mine = slates.filter(({ owner, shared }) => shared || owner === account?.name);
  return {
    slate:
      mine.find(({ id }) => id === chosen) ??
      mine.find(({ size, owner }) => size > 0 && owner === account?.name) ??
      null,
    mine,
  };
}

export const useSlate = (id: number | null) =>
  useQuery({
    queryKey: [slatePath(id ?? 0)],
    queryFn: () => api<SlatePage>('GET', slatePath(id!)),
    enabled: id !== null,
    retry: (failures, error) => !(isApiError(error) && error.status === 404) && failures < 2,
  });

/** What the pages show is brought up to date after a change of a slate; after it is live all of it. */
function renew(id: number, everything = false): void {
  if (everything) void queryClient.invalidateQueries();
  else {
    void queryClient.invalidateQueries({ queryKey: [LIST] });
    void queryClient.invalidateQueries({ queryKey: [slatePath(id)] });
  }
}

export const addSlate = async (name: string): Promise<number> => {
  const { id } = await api<{ id: number }>('POST', LIST, { name });
  renew(id);
  return id;
};
export const putOnSlate = async (
  id: number,
  entries: readonly (SlateEntry & { readonly why?: string })[],
): Promise<SlatePage> => {
  const page = await api<SlatePage>('PUT', `${slatePath(id)}/entries`, { entries });
  if (!page.isBrief) queryClient.setQueryData([slatePath(id)], page);
  renew(id);
  return page;
};

const listPath = (slate: number, list: string) => `${slatePath(slate)}/lists/${encodeURIComponent(list)}`;
const tookPage = (id: number, page: SlatePage) => {
  queryClient.setQueryData([slatePath(id)], page);
  renew(id);
  void queryClient.invalidateQueries({ queryKey: ['/api/routing'] });
};
/** Puts a list of numbers on a slate as the file that it is read from. */
export async function putListOnSlate(
  slate: number,
  {
    file,
    id,
    name,
    field,
  }: { readonly file: Blob; readonly id: string; readonly name: string; readonly field: string },
): Promise<void> {
  const query = `name=${encodeURIComponent(name)}&field=${encodeURIComponent(field)}`;
  tookPage(slate, await api<SlatePage>('PUT', `${listPath(slate, id)}?${query}`, file));
}
export async function removeListOnSlate(slate: number, id: string): Promise<void> {
  tookPage(slate, await api<SlatePage>('POST', `${listPath(slate, id)}/remove`));
}

/** Begins a slate that takes entries of the record back, or all that a slate changed. @returns its id */
export const takeBackOnSlate = async (
  what: { readonly entries: readonly number[] } | { readonly slate: number },
): Promise<number> => {
  const { slate } = await api<{ slate: number }>('POST', '/api/record/slate', what);
  renew(slate);
  return slate;
};

const LOOKS = 20;
const LOOK_EVERY_MS = 1500;

/**
 * The server went away while a slate was being put live: looks until it is there again, and says what is so.
 * @throws ApiError where the slate is not live, or it cannot be told
 */
async function lookWhether(id: number): Promise<SlatePage> {
  for (let looks = 0; looks < LOOKS; looks += 1) {
    await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
    const page = await api<SlatePage>('GET', slatePath(id)).catch(() => null);
    if (page?.slate.state === 'applied') return page;
    if (page)
      throw apiProblem('The server went away in between. The slate is not live: nothing of it was written.');
  }
  throw apiProblem('The server does not come back. Whether the slate is live is not known: look again.');
}

/** What can be done with one slate. */
export function useSlateWork(id: number) {
  const took = (page: SlatePage) => tookPage(id, page);
  return {
    patch: useMutation({
      mutationFn: (patch: SlatePatch) => api<SlatePage>('PUT', slatePath(id), patch),
      onSuccess: took,
    }),
    take: useMutation({
      mutationFn: ({ kind, id: which }: { kind: EntryKind; id: string }) =>
        api<SlatePage>('DELETE', `${slatePath(id)}/entries/${kind}/${encodeURIComponent(which)}`),
      onSuccess: took,
    }),
    followers: useMutation({
      mutationFn: (template: string) => api<SlatePage>('POST', `${slatePath(id)}/followers`, { template }),
      onSuccess: took,
    }),
    carry: useMutation({
      mutationFn: () => api<SlatePage>('POST', `${slatePath(id)}/carry`),
      onSuccess: took,
    }),
    drop: useMutation({
      mutationFn: () => api('DELETE', slatePath(id)),
      onSuccess: () => renew(id),
    }),
    back: useMutation({ mutationFn: () => api<SlatePage>('POST', `${slatePath(id)}/back`), onSuccess: took }),
    apply: useMutation({
      mutationFn: (overrule: string | null) =>
        api<SlatePage>('POST', `${slatePath(id)}/apply`, overrule === null ? {} : { overrule }).catch(
          (error: unknown) => (isUnknown(error) ? lookWhether(id) : Promise.reject(error as Error)),
        ),
      onSuccess: () => renew(id, true),
    }),
  };
}

export const refusedOf = (error: unknown): Refused | null =>
  isApiError(error) ? ((error.body.refused as Refused | undefined) ?? null) : null;

export const useSlateDrills = (id: number, version: number) =>
  useQuery({
    queryKey: [slatePath(id), 'drills', version],
    queryFn: () =>
      api<{ drills: number; failed: readonly DrillResult[]; already: number }>(
        'GET',
        `${slatePath(id)}/drills`,
      ),
  });

/** The impact of a slate: begun when it is asked for, watched while it goes on. */
export function useImpact(id: number, version: number) {
  const key = [slatePath(id), 'impact', version];
  const state = useQuery({
    queryKey: key,
    queryFn: () => api<ImpactState>('POST', `${slatePath(id)}/impact`),
    refetchInterval: (query) => (query.state.data?.state === 'running' ? 400 : false),
    staleTime: Infinity,
  });
  const cancel = useMutation({
    mutationFn: () => api('DELETE', `${slatePath(id)}/impact`),
    onSuccess: () =>
      queryClient.setQueryData<ImpactState>(key, (before) => before && { ...before, state: 'cancelled' }),
  });
  return { state, cancel };
}

export const useStrips = (
  slate: number,
  version: number,
  asked: {
    readonly kind: string;
    readonly id: string;
    readonly call: Call;
    readonly status: string | null;
  } | null,
) =>
  useQuery({
    queryKey: [slatePath(slate), 'strips', version, asked],
    queryFn: () => {
      const { status, ...rest } = asked!;
      return api<{ before: Strip | null; after: Strip | null }>('POST', `${slatePath(slate)}/strips`, {
        ...rest,
        ...(status === null ? {} : { status }),
      });
    },
    enabled: asked !== null,
  });

/** One object as a slate has it. */
export const readOnSlate = (slate: number, kind: EntryKind, id: string) =>
  api<{ base: unknown; after: unknown; theirs: unknown }>(
    'GET',
    `${slatePath(slate)}/entries/${kind}/${encodeURIComponent(id)}`,
  );
