import { useQuery } from '@tanstack/react-query';
import type { PeopleFound, PeopleHead, PeopleList, PeopleRows, PersonSummary } from '../../api/people';
import { peopleMatcher, type PeopleAsked } from '../../core/search';
import { useMemo } from 'react';
import { api, apiProblem } from './api';
import { queryClient } from './data';

const PATH = '/api/people';
const KEY = [PATH];
/** Parts asked for at once; and how often the list is begun anew because parts went away meanwhile. */
const AT_ONCE = 10;
const MOST_TRIES = 5;
/** How long a whole list is taken for what is there, in ms. */
const FRESH_MS = 15_000;

type Rows = readonly PersonSummary[];

/** The rows of parts by their names, as they were last asked for; those that stay are not asked for again. */
let known: ReadonlyMap<string, Rows> = new Map();
// Forgotten with all else that was asked for: whoever signs in next has to ask anew. What came before a page was left
// half way stays.
queryClient.getQueryCache().subscribe(({ type, query }) => {
  if (type === 'removed' && query.queryKey[0] === PATH) known = new Map();
});

const joined = new WeakMap<Rows, { readonly of: readonly Rows[]; readonly people: Rows }>();
/** All rows as one list; the same list for as long as its parts are the same. */
function join(parts: readonly Rows[]): Rows {
  const [first] = parts;
  if (!first) return [];
  const before = joined.get(first);
  if (before && before.of.length === parts.length && before.of.every((part, i) => part === parts[i]))
    return before.people;
  const people = parts.length === 1 ? first : parts.flat();
  joined.set(first, { of: parts, people });
  return people;
}

function listOf({ parts, people: _, ...choices }: PeopleHead, rows: ReadonlyMap<string, Rows>): PeopleList {
  return {
    ...choices,
    people: join(parts.flatMap(({ hash }) => [rows.get(hash) ?? []].filter(({ length }) => length > 0))),
    count: parts.reduce((sum, { count }) => sum + count, 0),
  };
}

const isWhole = (list: PeopleList | undefined): boolean =>
  list !== undefined && list.people.length === list.count;

/**
 * Asks for the list of people: of what it is made, then the parts that are not here. While a long one comes for the
 * first time, what is here is shown already.
 */
async function fetchPeople(signal: AbortSignal): Promise<PeopleList> {
  for (let tries = 0; tries < MOST_TRIES; tries++) {
    const [have] = [...known.keys()];
    const head = await api<PeopleHead>('GET', have ? `${PATH}?have=${have}` : PATH, undefined, signal);
    const rows = new Map<string, Rows>();
    head.parts.forEach(({ hash }, i) => {
      const here = known.get(hash) ?? (i === 0 ? head.people : null);
      if (here) rows.set(hash, here);
    });
    const missing = head.parts.flatMap(({ hash }) => (rows.has(hash) ? [] : [hash]));
    let isGone = false;
    for (let i = 0; i < missing.length && !isGone; i += AT_ONCE) {
      // A long list that is here whole stays until the new one is.
      if (!isWhole(queryClient.getQueryData<PeopleList>(KEY)))
        queryClient.setQueryData(KEY, listOf(head, rows));
      const names = missing.slice(i, i + AT_ONCE);
      const { parts } = await api<PeopleRows>(
        'GET',
        `/api/people-parts?names=${names.join(',')}`,
        undefined,
        signal,
      );
      names.forEach((name, n) => {
        const here = parts[n];
        if (here) rows.set(name, here);
        else isGone = true;
      });
      keep(head, rows);
    }
    keep(head, rows);
    // A part that is gone was of a list of before: somebody was changed meanwhile.
    if (!isGone) return listOf(head, rows);
  }
  throw apiProblem('The list of people changes faster than it can be fetched. Try again.');
}

/** In the order of the list, so that the first is the first; what came before and is still of use stays. */
function keep({ parts }: PeopleHead, rows: ReadonlyMap<string, Rows>): void {
  known = new Map(
    parts.flatMap(({ hash }) => {
      const here = rows.get(hash);
      return here ? [[hash, here] as const] : [];
    }),
  );
}

/** Everybody; of a long list at first only a part is here (`count` says how many there are). */
export const usePeople = () =>
  useQuery<PeopleList>({
    queryKey: KEY,
    queryFn: ({ signal }) => fetchPeople(signal),
    // What was left half way is gone on with by whoever looks next.
    staleTime: ({ state }) => (isWhole(state.data) ? FRESH_MS : 0),
    // Rows that stay are the same objects already.
    structuralSharing: false,
  });

/** Of a long list that is still coming: how many people are here, and how many there are; null: all are here. */
export const stillComing = (list: PeopleList | undefined): { here: number; count: number } | null =>
  list && !isWhole(list) ? { here: list.people.length, count: list.count } : null;

/**
 * Those who fit: found here, and by the server while the list is still coming.
 * @returns people: as many as are here; count: how many fit in all
 */
export function usePeopleFound({ query, status, reach }: PeopleAsked): {
  readonly people: Rows;
  readonly count: number;
  readonly isLooking: boolean;
} {
  const { data } = usePeople();
  const isAll = query.trim() === '' && status === null && reach === null;
  const here = useMemo(() => {
    if (!data) return [];
    return isAll ? data.people : data.people.filter(peopleMatcher({ query, status, reach }));
  }, [data, isAll, query, status, reach]);
  const there = useQuery({
    queryKey: ['/api/people-found', query, status, reach],
    queryFn: ({ signal }) => {
      const asked = new URLSearchParams({
        text: query,
        ...(status === null ? {} : { status }),
        ...(reach === null ? {} : { reach }),
      });
      return api<PeopleFound>('GET', `/api/people-found?${asked.toString()}`, undefined, signal);
    },
    enabled: stillComing(data) !== null && !isAll,
  });
  if (stillComing(data) === null || !data) return { people: here, count: here.length, isLooking: false };
  if (isAll) return { people: here, count: data.count, isLooking: false };
  return there.data
    ? { ...there.data, isLooking: false }
    : { people: here, count: here.length, isLooking: there.isFetching };
}
