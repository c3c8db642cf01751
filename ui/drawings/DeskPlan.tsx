import { Pressable, ScrollView, View } from 'react-native';
import type { DeskRoom } from '../../core/desks';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

/** How a desk is drawn: open while it is free, full while somebody sits there. */
export interface DrawnState {
  readonly fill: 'free' | 'taken' | 'chosen';
  /** A few letters below its name, such as who sits there. */
  readonly mark: string;
  /** What is read aloud of it. */
  readonly label: string;
  /** null: it is only looked at. */
  readonly onPress: (() => void) | null;
}

const CELL = { width: 50, height: 48, gap: 4 } as const;

/**
 * The desks of a room seen from above, in columns and rows.
 * @param onPlace where a free place is pressed; left out: places are only looked at
 */
export function DeskPlan<T>({
  room,
  stateOf,
  onPlace,
}: {
  readonly room: DeskRoom<T>;
  readonly stateOf: (desk: T) => DrawnState;
  readonly onPlace?: (column: number, row: number) => void;
}) {
  const palette = usePalette();
  // A desk can be moved one column and one row beyond what there is.
  const more = onPlace ? 1 : 0;
  const rows = Array.from({ length: room.rows + more }, (_each, i) => i + 1);
  const columns = Array.from({ length: room.columns + more }, (_each, i) => i + 1);
  const at = new Map(room.desks.map((each) => [`${each.column} ${each.row}`, each]));
  const cell = { width: CELL.width, height: CELL.height, borderRadius: 4 } as const;
  return (
    <ScrollView horizontal style={{ flexGrow: 0 }}>
      <View
        role="group"
        aria-label={room.area ?? 'Desks'}
        style={{
          gap: CELL.gap,
          padding: space(2),
          borderWidth: 1,
          borderColor: palette.line,
          backgroundColor: palette.sheet,
        }}
      >
        {rows.map((row) => (
          <View key={row} style={{ flexDirection: 'row', gap: CELL.gap }}>
            {columns.map((column) => {
              const drawn = at.get(`${column} ${row}`);
              if (drawn) return <Desk key={column} short={drawn.short} state={stateOf(drawn.desk)} />;
              return onPlace ? (
                <Pressable
                  key={column}
                  role="button"
                  aria-label={`Free place, column ${column}, row ${row}`}
                  onPress={() => onPlace(column, row)}
                  style={({ pressed }) => ({
                    ...cell,
                    borderWidth: 1,
                    borderStyle: 'dashed',
                    borderColor: palette.line,
                    backgroundColor: pressed ? palette.tint : 'transparent',
                  })}
                />
              ) : (
                <View key={column} style={cell} />
              );
            })}
          </View>
        ))}
      </View>
    </ScrollView>
  );
}

function Desk({
  short,
  state: { fill, mark, label, onPress },
}: {
  readonly short: string;
  readonly state: DrawnState;
}) {
  const palette = usePalette();
  const isFull = fill !== 'free';
  const style = {
    width: CELL.width,
    height: CELL.height,
    borderRadius: 4,
    borderWidth: 2,
    borderColor: fill === 'chosen' ? palette.rust : palette.ink,
    backgroundColor: fill === 'chosen' ? palette.rust : isFull ? palette.ink : palette.sheet,
    alignItems: 'center',
    justifyContent: 'center',
  } as const;
  const words = (
    <>
      <Words size="small" strong lines={1} style={isFull ? { color: palette.sheet } : {}}>
        {short}
      </Words>
      <Words size="small" lines={1} style={isFull ? { color: palette.sheet } : {}}>
        {mark}
      </Words>
    </>
  );
  return onPress ? (
    <Pressable role="button" aria-label={label} onPress={onPress} style={style}>
      {words}
    </Pressable>
  ) : (
    <View role="img" aria-label={label} style={style}>
      {words}
    </View>
  );
}
