import { useCallback, useLayoutEffect, useRef } from 'react';

/**
 * A function that stays the same from one drawing to the next and always does the latest: a control that is given it
 * needs no new drawing when nothing else about it has changed.
 */
export function useStable<A extends unknown[]>(does: (...args: A) => void): (...args: A) => void {
  const latest = useRef(does);
  useLayoutEffect(() => {
    latest.current = does;
  });
  return useCallback((...args: A) => latest.current(...args), []);
}
