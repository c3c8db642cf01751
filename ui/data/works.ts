import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { tabStorage } from './tabStorage';
import { forgetWithAccount } from './session';

/** Edits of one object that are not live: what they rest on, and every state since. */
export interface Work {
  readonly base: { readonly object: unknown; readonly version: number };
  readonly steps: readonly unknown[];
}

interface WorkState {
  readonly works: Readonly<Record<string, Work>>;
  readonly put: (key: string, work: Work | null) => void;
}

/**
 * Edits of groups, menus, hours, templates, the route table and the like: they outlast leaving the page and a reload
 * of it, as those of people do, and go with the tab or at signing out. After a reload the last state is there, and one
 * step back from it.
 */
export const useWorks = create<WorkState>()(
  persist(
    (set) => ({
      works: {},
      put: (key, work) =>
        set(({ works }) => {
          const { [key]: _before, ...rest } = works;
          return { works: work ? { ...rest, [key]: work } : rest };
        }),
    }),
    {
      name: 'hostler-works',
      storage: tabStorage(),
      partialize: ({ works }) => ({
        works: Object.fromEntries(
          Object.entries(works).map(([key, { base, steps }]) => [key, { base, steps: steps.slice(-1) }]),
        ),
      }),
      version: 1,
    },
  ),
);

/** Forgets all of them, in the storage too. */
export function forgetWorks(): void {
  useWorks.setState({ works: {} });
}
forgetWithAccount(forgetWorks);
