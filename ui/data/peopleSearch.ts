import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { tabStorage } from './tabStorage';
import { forgetWithAccount } from './session';
import type { ReachState } from '../../core/calls/views';

interface PeopleSearch {
  readonly query: string;
  readonly status: string | null;
  readonly reach: ReachState | null;
  readonly set: (change: Partial<Pick<PeopleSearch, 'query' | 'status' | 'reach'>>) => void;
}

/** What the list of people is searched by: kept while the tab is open, over going to a person and back. */
export const usePeopleSearch = create<PeopleSearch>()(
  persist((set) => ({ query: '', status: null, reach: null, set: (change) => set(change) }), {
    name: 'hostler-people-search',
    storage: tabStorage(),
  }),
);

forgetWithAccount(() => usePeopleSearch.setState({ query: '', status: null, reach: null }));
