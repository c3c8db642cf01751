import { useMemo, useSyncExternalStore, type ReactNode } from 'react';
import { ThemeProvider, useTheme, type MD3Theme } from 'react-native-paper';

/** Media Queries Level 5, 11.1. */
const LESS = '(prefers-reduced-motion: reduce)';
const asked = () => globalThis.matchMedia?.(LESS);
const follow = (changed: () => void) => {
  const query = asked();
  query?.addEventListener('change', changed);
  return () => query?.removeEventListener('change', changed);
};
const isReduced = () => asked()?.matches ?? false;

/** What is below stands still for whoever has asked their device for less motion; what CSS moves is in index.html. */
export function Motion({ children }: { readonly children: ReactNode }) {
  const theme = useTheme<MD3Theme>();
  const reduced = useSyncExternalStore(follow, isReduced);
  // Paper asks the device only where it is given no theme.
  const still = useMemo(() => ({ ...theme, animation: { ...theme.animation, scale: 0 } }), [theme]);
  return <ThemeProvider theme={reduced ? still : theme}>{children}</ThemeProvider>;
}
