import { createJSONStorage, type StateStorage } from 'zustand/middleware';

/** A browser's storage; where there is none, or it is full, what is kept lasts as long as the page. */
const kept = (which: () => Storage | undefined): StateStorage => ({
  getItem: (name) => which()?.getItem(name) ?? null,
  setItem: (name, value) => {
    try {
      which()?.setItem(name, value);
    } catch {
      which()?.removeItem(name);
    }
  },
  removeItem: (name) => which()?.removeItem(name),
});

/** A browser's storage for one tab. */
export const inTab = kept(() => globalThis.sessionStorage);
const inBrowser = kept(() => globalThis.localStorage);

/** Where stores keep what outlasts a reload of the tab, and goes with it. */
export const tabStorage = <S>() => createJSONStorage<S>(() => inTab);
/** Where stores keep what is set once for this browser. */
export const browserStorage = <S>() => createJSONStorage<S>(() => inBrowser);
