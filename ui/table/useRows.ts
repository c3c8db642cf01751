import { useEffect, useMemo, useState } from 'react';
import type { Choosing } from './DataTable';

/** Rows that are chosen; of these only those in view count: what is filtered out is not changed unseen. */
export function useChosen<T>(rows: readonly T[], keyOf: (row: T) => string) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const seen = useMemo(() => rows.filter((row) => chosen.has(keyOf(row))), [rows, chosen, keyOf]);
  const choosing: Choosing = { chosen, onChosen: setChosen };
  return { seen, choosing, chooseNone: () => setChosen(new Set()) };
}

/** The row that is open; one that leaves the table is closed, and does not open by itself when it comes back. */
export function useOpenRow<T>(rows: readonly T[], keyOf: (row: T) => string) {
  const [open, setOpen] = useState<string | null>(null);
  const shown = useMemo(
    () => (open === null ? undefined : rows.find((row) => keyOf(row) === open)),
    [rows, open, keyOf],
  );
  useEffect(() => {
    if (open !== null && !shown) setOpen(null);
  }, [open, shown]);
  return { shown, open: (row: T) => setOpen(keyOf(row)), close: () => setOpen(null) };
}
