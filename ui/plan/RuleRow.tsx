import type { ReactNode } from 'react';
import { Pressable, View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import type { Piece } from '../../core/calls/views';
import { space, usePalette } from '../kit/theme';
import { IconButton } from '../kit/parts';
import { Words } from '../kit/Words';

export interface RuleRowData {
  readonly id: string;
  readonly name: string;
  readonly when: string;
  readonly does: readonly Piece[];
  /** Whether the call of the moment comes to this rule. */
  readonly isNow: boolean;
}

export interface RuleOrderProps {
  readonly rows: readonly RuleRowData[];
  readonly onOpen: ((id: string) => void) | null;
  readonly onMove: ((from: number, to: number) => void) | null;
}

/** One rule as a sentence, with where it stands. */
export function RuleRow({
  row,
  i,
  rows,
  onOpen,
  onMove,
  handle,
}: RuleOrderProps & { readonly row: RuleRowData; readonly i: number; readonly handle?: ReactNode }) {
  const palette = usePalette();
  return (
    <View
      style={{
        flexDirection: 'row',
        alignItems: 'center',
        borderTopWidth: i > 0 ? 1 : 0,
        borderColor: palette.line,
        borderLeftWidth: 4,
        borderLeftColor: row.isNow ? palette.accent : 'transparent',
        backgroundColor: palette.sheet,
      }}
    >
      {handle}
      <Pressable
        role="button"
        aria-label={`${row.name}. Change`}
        disabled={!onOpen}
        onPress={() => onOpen?.(row.id)}
        style={({ pressed }) => ({
          flex: 1,
          minHeight: 56,
          padding: space(3),
          gap: 2,
          backgroundColor: pressed ? palette.tint : palette.sheet,
        })}
      >
        <Words strong>{row.name}</Words>
        <Words size="small" tone={row.isNow ? 'accent' : 'soft'}>
          {`${row.when}${row.isNow ? ' (this call)' : ''}`}
        </Words>
        <Words size="small">{showNumbersIn(row.does.map((piece) => piece.text).join(''))}</Words>
      </Pressable>
      {onMove && rows.length > 1 ? (
        <View>
          {i > 0 ? (
            <IconButton icon="up" label={`${row.name}: earlier`} onPress={() => onMove(i, i - 1)} />
          ) : null}
          {i < rows.length - 1 ? (
            <IconButton icon="down" label={`${row.name}: later`} onPress={() => onMove(i, i + 1)} />
          ) : null}
        </View>
      ) : null}
    </View>
  );
}
