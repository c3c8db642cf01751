import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { browserStorage } from './tabStorage';

/** How somebody has set a table: columns hidden or shown against what is usual, widths in px, what it is sorted by. */
export interface TableSet {
  readonly shown: Readonly<Record<string, boolean>>;
  readonly widths: Readonly<Record<string, number>>;
  readonly sorting: readonly { readonly id: string; readonly desc: boolean }[];
}
export const UNSET: TableSet = { shown: {}, widths: {}, sorting: [] };

interface Tables {
  readonly tables: Readonly<Record<string, TableSet>>;
  readonly set: (name: string, change: Partial<TableSet>) => void;
}

/** Kept in this browser for each table. */
export const useTables = create<Tables>()(
  persist(
    (set) => ({
      tables: {},
      set: (name, change) =>
        set(({ tables }) => ({
          tables: { ...tables, [name]: { ...UNSET, ...tables[name], ...change } },
        })),
    }),
    { name: 'hostler-tables', storage: browserStorage() },
  ),
);
