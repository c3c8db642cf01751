import { useEffect, useMemo, useState } from 'react';
import { useMutation, useQuery } from '@tanstack/react-query';
import type { Estate, KeptPromise, PersonId } from '../../core/estate';
import type { ProofRun, ProofScope } from '../../core/assurance/promises';
import { useRole } from './session';
import { reachWorker } from './reach';
import { api } from './api';
import { personKey, queryClient } from './data';

const WEEK_MS = 7 * 86_400_000;

/** From the beginning of this week, so that the proof of a day is that of the next too. */
export const scopeNow = (spread = 0): ProofScope => ({
  spread,
  fromMs: Math.floor(Date.now() / WEEK_MS) * WEEK_MS,
  everyStatus: true,
});

/** Proves a person's promises, anew with each edit; null while that is under way. */
export function useProofs(slice: Estate, person: PersonId, kept: readonly KeptPromise[]) {
  const isLocal = useRole() === 'specialist';
  const [run, setRun] = useState<ProofRun | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const promises = useMemo(() => kept.map(({ promise }) => promise), [kept]);
  useEffect(() => {
    if (!isLocal || promises.length === 0) return;
    let wanted = true;
    setRun(null);
    const wait = setTimeout(() => {
      reachWorker('promises')
        .prove(slice, person, promises, scopeNow())
        .then(
          (done) => wanted && setRun(done),
          (error: unknown) => wanted && setTrouble(String(error)),
        );
    }, 300);
    return () => {
      wanted = false;
      clearTimeout(wait);
    };
  }, [isLocal, slice, person, promises]);
  const remote = useQuery({
    queryKey: [`${personKey(person)}/proofs`],
    queryFn: () => api<ProofRun>('GET', `${personKey(person)}/proofs`),
    enabled: !isLocal && promises.length > 0,
  });
  return isLocal
    ? { run, trouble }
    : { run: remote.data ?? null, trouble: remote.isError ? 'The promises could not be had.' : null };
}

/** Writes which promises are kept. @param before those that were kept when they were opened */
export const useSetPromises = (before: readonly KeptPromise[]) =>
  useMutation({
    mutationFn: (promises: readonly KeptPromise[]) => api('PUT', '/api/promises', { promises, before }),
    onSuccess: () => void queryClient.invalidateQueries(),
  });
