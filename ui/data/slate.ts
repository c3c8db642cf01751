import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { forgetWithAccount } from './session';
import { tabStorage } from './tabStorage';

interface SlateState {
  /** The slate that changes are put on; null: none has been chosen. */
  readonly current: number | null;
  readonly choose: (id: number | null) => void;
}

/** Which slate is in work in this tab. */
export const useSlateInWork = create<SlateState>()(
  persist((set) => ({ current: null, choose: (current) => set({ current }) }), {
    name: 'hostler-slate',
    storage: tabStorage(),
  }),
);

// The slate of one is not that which the next one's changes go onto.
forgetWithAccount(() => useSlateInWork.setState({ current: null }));
