import { useEffect, useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import type { Effect } from '../../api/effect';
import type { SlateEntry } from '../../core/changes/slate';
import { api, isApiError } from './api';

/** How long typing or dragging must rest before what it does is worked out, in ms. */
const REST_MS = 300;

/** A value once it has not changed for a moment; null until then. */
function useRested<T>(value: T): T | null {
  const [rested, setRested] = useState<T | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), REST_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return rested === value ? rested : null;
}

const ask = <T>(path: string, body: T | null) => ({
  queryKey: [path, body],
  // Once something else is asked, the server need not work on it any longer.
  queryFn: ({ signal }: { signal: AbortSignal }) => api<Effect>('POST', path, body, signal),
  enabled: body !== null,
  retry: false,
  staleTime: 5000,
  gcTime: 30_000,
});

/** What changes do before they are live. @param entries the same array while nothing is changed; null: none */
export function useEffectOfEntries(entries: readonly SlateEntry[] | null) {
  const rested = useRested(entries);
  return useQuery(ask('/api/effect', rested && { entries: rested }));
}

/** What something does that takes effect at once: a switch, a status, a cover, a request that is granted. */
export function useEffectOfAct<T extends object>(path: string, act: T | null) {
  const rested = useRested(act);
  return useQuery(ask(path, rested));
}

export type EffectQuery = ReturnType<typeof useEffectOfEntries>;

/** Whether something gets worse: calls that are lost now, promises that break, drills that fail. */
export const isWorse = ({ calls, promises, drills }: Effect): boolean =>
  promises.length > 0 || drills.length > 0 || calls.some(({ weight }) => weight === 'lost');

/**
 * Doing something only once it is known what it does: where nothing gets worse it is done, else it is asked first.
 * @param effect what it does; where that cannot be worked out, it is asked too
 */
export function useAsked(effect: EffectQuery, then: () => void) {
  const [state, setState] = useState<'idle' | 'waits' | 'asks'>('idle');
  const isKnown = effect.data !== undefined && !effect.isPlaceholderData;
  const isFailed = effect.isError;
  // Faults, and what others changed meanwhile, are refused where it is put live, and told beside what they are about.
  const isRefused = isApiError(effect.error) && [400, 409].includes(effect.error.status);
  const decide = () => {
    if (isRefused || (effect.data?.through && !isWorse(effect.data))) {
      setState('idle');
      then();
    } else setState('asks');
  };
  useEffect(() => {
    if (state === 'waits' && (isKnown || isFailed)) decide();
    // What is decided follows from what is listed.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [state, isKnown, isFailed]);
  return {
    asks: state === 'asks',
    waits: state === 'waits',
    press: () => (isKnown || isFailed ? decide() : setState('waits')),
    sure: () => {
      setState('idle');
      then();
    },
    back: () => setState('idle'),
  };
}
