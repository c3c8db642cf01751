import type { ReactNode } from 'react';
import { View } from 'react-native';
import { space, usePalette } from './theme';

/** Something to know before reading on, with a bar at its side. */
export function Note({ color, children }: { readonly color: string; readonly children: ReactNode }) {
  const palette = usePalette();
  return (
    <View
      role="note"
      style={{
        marginHorizontal: space(4),
        marginVertical: space(2),
        padding: space(3),
        gap: space(2),
        borderLeftWidth: 4,
        borderColor: color,
        backgroundColor: palette.sheet,
      }}
    >
      {children}
    </View>
  );
}

/** An item of a list with a bar at its side that says how heavy it is. */
export function MarkedItem({ color, children }: { readonly color: string; readonly children: ReactNode }) {
  const palette = usePalette();
  return (
    <View
      role="listitem"
      style={{
        gap: space(1),
        paddingVertical: space(3),
        paddingLeft: space(3),
        borderLeftWidth: 4,
        borderBottomWidth: 1,
        borderLeftColor: color,
        borderBottomColor: palette.line,
      }}
    >
      {children}
    </View>
  );
}
