import type { ReactNode } from 'react';
import { View } from 'react-native';
import { Button } from '../kit/controls';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

/** What can be done with the rows that are chosen. */
export function ChosenBar({
  count,
  onNone,
  children,
}: {
  readonly count: number;
  readonly onNone: () => void;
  readonly children: ReactNode;
}) {
  const palette = usePalette();
  if (count === 0) return null;
  return (
    <View
      role="toolbar"
      aria-label="For those chosen"
      style={{
        flexDirection: 'row',
        flexWrap: 'wrap',
        alignItems: 'center',
        gap: space(2),
        padding: space(2),
        paddingLeft: space(4),
        borderTopWidth: 1,
        borderColor: palette.line,
        backgroundColor: palette.tint,
      }}
    >
      <Words strong live style={{ flex: 1 }}>
        {count === 1 ? 'One chosen' : `${count} chosen`}
      </Words>
      {children}
      <Button kind="quiet" label="Choose none" onPress={onNone} />
    </View>
  );
}
