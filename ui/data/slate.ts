import { create } from 'zustand';
import { createJSONStorage, persist } from 'zustand/middleware';

interface SlateState {
  /** The slate that changes are put on; null: none has been chosen. */
  readonly current: number | null;
  readonly choose: (id: number | null) => void;
}

const NOWHERE = { getItem: () => null, setItem: () => undefined, removeItem: () => undefined };

/** Which slate is in work in this tab. */
export const useSlateInWork = create<SlateState>()(
  persist((set) => ({ current: null, choose: (current) => set({ current }) }), {
    name: 'hostler-slate',
    storage: createJSONStorage(() => ('sessionStorage' in globalThis ? sessionStorage : NOWHERE)),
  }),
);
