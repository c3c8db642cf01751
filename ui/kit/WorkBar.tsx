import type { ReactNode } from 'react';
import { View } from 'react-native';
import { space, usePalette } from './theme';

/** The bar at the bottom of a page while something there is not live, with what can be done about it. */
export function WorkBar({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  const palette = usePalette();
  return (
    <View
      role="region"
      aria-label={label}
      style={{
        borderTopWidth: 2,
        borderColor: palette.accent,
        backgroundColor: palette.sheet,
        padding: space(3),
        gap: space(2),
      }}
    >
      {children}
    </View>
  );
}
