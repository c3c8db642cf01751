import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { tabStorage } from './tabStorage';
import { toldDifferences } from '../../core/editing';
import { withNewNames, type Person } from '../../core/estate';
import { forgetWithAccount } from './session';

/** A person being changed: what was read, and every state since, so that each step can be undone. */
export interface Draft {
  readonly base: Person;
  readonly version: number;
  readonly steps: readonly Person[];
}

interface DraftState {
  readonly drafts: Readonly<Record<string, Draft>>;
  /** Changes a person. Changes of one kind that follow each other (`merge` is the same) count as one step. */
  readonly edit: (base: Person, version: number, change: (person: Person) => Person, merge?: string) => void;
  readonly undo: (id: string) => void;
  readonly discard: (id: string) => void;
  /** Keeps the edits of a draft but lets them rest on a newer version. */
  readonly rebase: (id: string, base: Person, version: number) => void;
}

let lastMerge = '';

/**
 * Drafts outlast a reload of the page: they lie in the tab's own storage, which goes with the tab, and are emptied at
 * signing out.
 */
export const useDrafts = create<DraftState>()(
  persist(
    (set) => ({
      drafts: {},
      edit: (base, version, change, merge) =>
        set(({ drafts }) => {
          const before = drafts[base.id] ?? { base, version, steps: [] };
          const next = change(before.steps.at(-1) ?? before.base);
          const key = merge === undefined ? '' : `${base.id}/${merge}`;
          const merges = key !== '' && key === lastMerge && before.steps.length > 0;
          lastMerge = key;
          const steps = [...(merges ? before.steps.slice(0, -1) : before.steps), next];
          return { drafts: { ...drafts, [base.id]: { ...before, steps } } };
        }),
      undo: (id) =>
        set(({ drafts }) => {
          lastMerge = '';
          const draft = drafts[id];
          if (!draft) return { drafts };
          if (draft.steps.length <= 1) return { drafts: without(drafts, id) };
          return { drafts: { ...drafts, [id]: { ...draft, steps: draft.steps.slice(0, -1) } } };
        }),
      discard: (id) =>
        set(({ drafts }) => {
          lastMerge = '';
          return { drafts: without(drafts, id) };
        }),
      rebase: (id, base, version) =>
        set(({ drafts }) => {
          const draft = drafts[id];
          return draft ? { drafts: { ...drafts, [id]: { ...draft, base, version } } } : { drafts };
        }),
    }),
    {
      name: 'hostler-drafts',
      storage: tabStorage(),
      partialize: ({ drafts }) => ({ drafts }),
      version: 1,
      migrate: (kept) => withNewNames(kept) as Pick<DraftState, 'drafts'>,
    },
  ),
);

/** Forgets all drafts, in the storage too. */
export function forgetDrafts(): void {
  useDrafts.setState({ drafts: {} });
}
forgetWithAccount(forgetDrafts);

const without = (drafts: Readonly<Record<string, Draft>>, id: string) =>
  Object.fromEntries(Object.entries(drafts).filter(([key]) => key !== id));

export const draftPerson = (draft: Draft | undefined): Person | undefined => draft?.steps.at(-1);

/** How many single settings a draft changes. */
export const changeCount = (draft: Draft | undefined): number => {
  const person = draftPerson(draft);
  return draft && person ? toldDifferences(draft.base, person).length : 0;
};
