import { View } from 'react-native';
import { UNSET, useTables } from '../data/tables';
import { Button, IconButton, Tick } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { fitWidth, WIDTH_STEP, type Column } from './columns';

/** Which columns a table has, and how wide each is: by keyboard and touch too. */
export function ColumnsSheet<T>({
  name,
  columns,
  onClose,
}: {
  readonly name: string;
  readonly columns: readonly Column<T>[];
  readonly onClose: () => void;
}) {
  const kept = useTables((state) => state.tables[name] ?? UNSET);
  const set = useTables((state) => state.set);
  return (
    <Sheet
      title="Columns"
      open
      onClose={onClose}
      footer={
        <>
          <Button label="As at first" onPress={() => set(name, UNSET)} />
          <Button kind="main" grow label="Done" onPress={onClose} />
        </>
      }
    >
      <Words size="small" tone="soft">
        The first column stays. Widths can be drawn at the edge of a heading, too. Kept in this browser.
      </Words>
      <View>
        {columns.map((column, n) => {
          const on = kept.shown[column.id] ?? !column.isExtra;
          const width = kept.widths[column.id] ?? column.width;
          const resize = (by: number) =>
            set(name, { widths: { ...kept.widths, [column.id]: fitWidth(width + by) } });
          return (
            <View key={column.id} style={{ flexDirection: 'row', alignItems: 'center', gap: space(1) }}>
              <View style={{ flex: 1 }}>
                {n === 0 ? (
                  <Words strong>{column.title}</Words>
                ) : (
                  <Tick
                    label={column.title}
                    on={on}
                    onPress={() => set(name, { shown: { ...kept.shown, [column.id]: !on } })}
                  />
                )}
              </View>
              <IconButton
                icon="minus"
                label={`Narrower: ${column.title}`}
                onPress={() => resize(-WIDTH_STEP)}
              />
              <Words size="small" mono tone="soft">
                {String(width)}
              </Words>
              <IconButton icon="add" label={`Wider: ${column.title}`} onPress={() => resize(WIDTH_STEP)} />
            </View>
          );
        })}
      </View>
    </Sheet>
  );
}
