import { useEffect, useState } from 'react';
import { proxy } from 'comlink';
import { useQuery } from '@tanstack/react-query';
import type { Estate, PersonId } from '../../core/estate';
import type { Circumstance, WeekCell } from '../../core/calls/views';
import { useRole } from './session';
import { reachWorker } from './reach';
import { api } from './api';

export interface Week {
  /** Seven days from Monday; a day that is still on its way is null. */
  readonly days: readonly (readonly WeekCell[] | null)[];
  readonly trouble: string | null;
}
const EMPTY: Week = { days: Array.from({ length: 7 }, () => null), trouble: null };
const HOUR_MS = 3_600_000;

/** The week of some people in a circumstance, filling day by day; by the server where numbers are not known here. */
export function useWeek(
  slice: Estate,
  people: readonly PersonId[],
  circumstance: Circumstance,
  epochMs: number,
  /** The extension of their group, for calls to the group; null: calls to each of them, and the worst shown. */
  group: string | null = null,
): Week {
  const isLocal = useRole() === 'specialist';
  const [week, setWeek] = useState<Week>(EMPTY);
  // The week is that of a day, so a moment some minutes later changes nothing.
  const at = Math.floor(epochMs / HOUR_MS) * HOUR_MS;
  const key = people.join(' ');
  useEffect(() => {
    if (!isLocal) return;
    let wanted = true;
    setWeek(EMPTY);
    const onDay = (day: number, cells: readonly WeekCell[]) => {
      if (wanted)
        setWeek((before) => ({ ...before, days: before.days.map((d, i) => (i === day ? cells : d)) }));
    };
    // A moment of quiet first: while a time is being typed nothing has to be worked out.
    const wait = setTimeout(() => {
      reachWorker('week')
        .week(slice, key.split(' '), circumstance, at, proxy(onDay), group)
        .catch((error: unknown) => wanted && setWeek({ ...EMPTY, trouble: String(error) }));
    }, 120);
    return () => {
      wanted = false;
      clearTimeout(wait);
    };
  }, [isLocal, slice, key, circumstance, at, group]);
  const remote = useQuery({
    queryKey: ['week', key, circumstance, at, group],
    queryFn: () =>
      api<{ days: WeekCell[][] }>(
        'GET',
        `/api/week?people=${encodeURIComponent(key)}&circumstance=${circumstance}&at=${at}${group === null ? '' : `&group=${group}`}`,
      ),
    enabled: !isLocal,
  });
  return isLocal
    ? week
    : {
        days: remote.data?.days ?? EMPTY.days,
        trouble: remote.isError ? 'The week could not be had.' : null,
      };
}
