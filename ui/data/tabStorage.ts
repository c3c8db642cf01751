import { createJSONStorage } from 'zustand/middleware';

/** The tab's own storage, which goes with the tab; where there is none, or it is full, what is kept lasts as long as the page. */
const inTab = {
  getItem: (name: string) => globalThis.sessionStorage?.getItem(name) ?? null,
  setItem: (name: string, value: string) => {
    try {
      globalThis.sessionStorage?.setItem(name, value);
    } catch {
      globalThis.sessionStorage?.removeItem(name);
    }
  },
  removeItem: (name: string) => {
    globalThis.sessionStorage?.removeItem(name);
  },
};

/** Where stores keep what outlasts a reload of the tab. */
export const tabStorage = <S>() => createJSONStorage<S>(() => inTab);
