import { memo, useMemo, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import { FlatList, Pressable, ScrollView, View } from 'react-native';
import { useRouter } from 'expo-router';
import {
  getCoreRowModel,
  getSortedRowModel,
  useReactTable,
  type ColumnDef,
  type Header,
  type Row as TableRow,
} from '@tanstack/react-table';
import { UNSET, useTables } from '../data/tables';
import { Button, TickBox } from '../kit/controls';
import { Icon } from '../kit/icons';
import { PressLink } from '../kit/PressLink';
import { rowHeight, space, TARGET, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { chosenAfter, fitWidth, LEAST_WIDTH, MOST_WIDTH, type Column } from './columns';
import { ColumnsSheet } from './ColumnsSheet';

const ROW = rowHeight(TARGET);
const EDGE = 12;

/** Choosing several rows. */
export interface Choosing {
  readonly chosen: ReadonlySet<string>;
  readonly onChosen: (chosen: ReadonlySet<string>) => void;
}

interface Props<T> {
  /** What its columns are kept under. */
  readonly name: string;
  readonly label: string;
  readonly columns: readonly Column<T>[];
  readonly rows: readonly T[];
  readonly keyOf: (row: T) => string;
  /** What a row is called where it is chosen. */
  readonly nameOf: (row: T) => string;
  /** The page that a row leads to. */
  readonly hrefOf?: (row: T) => string;
  /** What is done with a row that leads to no page. */
  readonly onOpen?: (row: T) => void;
  readonly choosing?: Choosing;
  /** What stands above it, beside the choice of columns. */
  readonly bar?: ReactNode;
  /** It has a height of its own and draws only the rows in view; else it is as long as its rows. */
  readonly scrolls?: boolean;
  /** It stands in the order in which its rows are given, and cannot be sorted here. */
  readonly inOrder?: boolean;
}

/** Rows as a table, on a wide screen: columns chosen, sorted by any, as wide as wanted; rows chosen, gone through by arrows. */
export function DataTable<T>(props: Props<T>) {
  const { name, label, columns, rows, keyOf, choosing, scrolls = false, inOrder = false, bar } = props;
  const palette = usePalette();
  const kept = useTables((state) => state.tables[name] ?? UNSET);
  const set = useTables((state) => state.set);
  const [open, setOpen] = useState(false);
  const last = useRef<string | null>(null);
  const definitions = useMemo(
    () =>
      columns.map((column): ColumnDef<T> => ({
        id: column.id,
        header: column.title,
        accessorFn: column.value,
        size: column.width,
        minSize: LEAST_WIDTH,
        maxSize: MOST_WIDTH,
        enableSorting: !inOrder,
        sortingFn: 'alphanumeric',
        sortDescFirst: false,
        sortUndefined: 'last',
      })),
    [columns, inOrder],
  );
  const state = useMemo(
    () => ({
      sorting: inOrder ? [] : [...kept.sorting],
      columnSizing: { ...kept.widths },
      columnVisibility: Object.fromEntries(
        columns.map(({ id, isExtra }, n) => [id, n === 0 || (kept.shown[id] ?? !isExtra)]),
      ),
    }),
    [kept, columns, inOrder],
  );
  const table = useReactTable<T>({
    data: rows as T[],
    columns: definitions,
    getRowId: keyOf,
    state,
    onSortingChange: (change) =>
      set(name, { sorting: typeof change === 'function' ? change([...kept.sorting]) : change }),
    onColumnSizingChange: (change) => {
      const now = useTables.getState().tables[name] ?? UNSET;
      const widths = typeof change === 'function' ? change({ ...now.widths }) : change;
      set(name, {
        widths: Object.fromEntries(Object.entries(widths).map(([id, width]) => [id, fitWidth(width)])),
      });
    },
    columnResizeMode: 'onChange',
    // There are no pages; to begin them anew at each change would never end.
    autoResetAll: false,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  });
  const sorted = table.getRowModel().rows;
  const byId = useMemo(() => new Map(columns.map((column) => [column.id, column])), [columns]);
  const keys = useMemo(() => sorted.map(({ id }) => id), [sorted]);
  const shown = table.getVisibleLeafColumns().map((column) => ({
    column: byId.get(column.id)!,
    style: {
      width: column.getSize(),
      flexShrink: 0,
      // Whatever room is left over goes to columns that nobody has drawn.
      flexGrow: kept.widths[column.id] === undefined ? column.getSize() : 0,
      minWidth: 0,
      paddingHorizontal: space(2),
      justifyContent: 'center',
    } as const,
  }));
  const allOn = keys.length > 0 && keys.every((key) => choosing?.chosen.has(key));
  const toggle = (key: string, isThrough: boolean) => {
    choosing?.onChosen(chosenAfter(choosing.chosen, keys, key, isThrough ? last.current : null));
    last.current = key;
  };
  const row = (each: TableRow<T>) => (
    <DataRow
      key={each.id}
      {...props}
      row={each.original}
      id={each.id}
      shown={shown}
      isChosen={choosing?.chosen.has(each.id) ?? false}
      toggle={toggle}
    />
  );
  const width = table.getTotalSize() + (choosing ? TARGET : 0);
  return (
    <View style={scrolls ? { flex: 1 } : {}}>
      <View
        style={{
          flexDirection: 'row',
          flexWrap: 'wrap',
          alignItems: 'center',
          justifyContent: bar ? 'flex-start' : 'flex-end',
          gap: space(2),
          paddingHorizontal: scrolls ? space(3) : 0,
          paddingBottom: space(2),
        }}
      >
        {bar}
        <Button kind="quiet" label="Columns" onPress={() => setOpen(true)} />
      </View>
      <ScrollView
        horizontal
        style={scrolls ? { flex: 1 } : {}}
        contentContainerStyle={{ flexGrow: 1, minWidth: width }}
      >
        <View
          role="table"
          aria-label={label}
          style={{ flex: 1, borderTopWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}
          {...({ onKeyDown: goByArrows, 'aria-rowcount': rows.length + 1 } as object)}
        >
          <View
            role="row"
            style={{ flexDirection: 'row', borderBottomWidth: 1, borderColor: palette.ink, height: ROW }}
          >
            {choosing ? (
              <View role="columnheader" style={{ width: TARGET }}>
                <Box
                  label={allOn ? 'Choose none' : `Choose all ${keys.length}`}
                  on={allOn}
                  onPress={() => choosing.onChosen(allOn ? new Set() : new Set(keys))}
                />
              </View>
            ) : null}
            {table.getFlatHeaders().map((header, n) => (
              <Heading key={header.id} header={header} style={shown[n]?.style ?? {}} inOrder={inOrder} />
            ))}
          </View>
          {scrolls ? (
            <FlatList
              role="rowgroup"
              style={{ flex: 1 }}
              data={sorted}
              keyExtractor={({ id }) => id}
              getItemLayout={(_data, index) => ({ length: ROW + 1, offset: (ROW + 1) * index, index })}
              initialNumToRender={24}
              windowSize={5}
              renderItem={({ item }) => row(item)}
            />
          ) : (
            <View role="rowgroup">{sorted.map(row)}</View>
          )}
        </View>
      </ScrollView>
      {open ? <ColumnsSheet name={name} columns={columns} onClose={() => setOpen(false)} /> : null}
    </View>
  );
}

/** Goes through the rows by arrows: the first link of the row above or below takes the focus. */
function goByArrows(event: KeyboardEvent<HTMLElement>) {
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (by === undefined || !(event.target instanceof HTMLElement)) return;
  const at = event.target.closest('[role="row"]');
  const rows: readonly Element[] = Array.from(event.currentTarget.querySelectorAll('[role="row"]'));
  const to = at ? rows[rows.indexOf(at) + by] : undefined;
  const field = to?.querySelector('[data-row]');
  if (!(field instanceof HTMLElement)) return;
  event.preventDefault();
  field.focus();
}

/** Whether Shift was held at a press in a browser. */
const hasShift = (event: unknown): boolean =>
  Boolean((event as { readonly shiftKey?: boolean } | undefined)?.shiftKey);

const Box = memo(function Box({
  label,
  on,
  onPress,
}: {
  readonly label: string;
  readonly on: boolean;
  readonly onPress: (isThrough: boolean) => void;
}) {
  return (
    <Pressable
      role="checkbox"
      aria-checked={on}
      aria-label={label}
      onPress={(event) => onPress(hasShift(event))}
      // With Shift the browser would mark the text in between.
      {...({
        onMouseDown: (event: MouseEvent) => {
          if (event.shiftKey) event.preventDefault();
        },
      } as object)}
      style={{ width: TARGET, height: ROW, alignItems: 'center', justifyContent: 'center' }}
    >
      <TickBox on={on} />
    </Pressable>
  );
});

function Heading<T>({
  header,
  style,
  inOrder,
}: {
  readonly header: Header<T, unknown>;
  readonly style: object;
  readonly inOrder: boolean;
}) {
  const palette = usePalette();
  const sorted = header.column.getIsSorted();
  const title = String(header.column.columnDef.header);
  const words = (
    <Words size="small" strong lines={1}>
      {title}
    </Words>
  );
  return (
    <View
      role="columnheader"
      style={style}
      {...({
        'aria-sort': inOrder
          ? undefined
          : sorted === false
            ? 'none'
            : sorted === 'asc'
              ? 'ascending'
              : 'descending',
      } as object)}
    >
      {inOrder ? (
        words
      ) : (
        <Pressable
          role="button"
          onPress={(event) => header.column.toggleSorting(undefined, hasShift(event))}
          style={{ flexDirection: 'row', alignItems: 'center', gap: space(1), height: ROW }}
        >
          {words}
          {sorted === false ? null : (
            <Icon name={sorted === 'asc' ? 'up' : 'down'} size={16} color={palette.ink} />
          )}
        </Pressable>
      )}
      <View
        aria-hidden
        style={{
          position: 'absolute',
          right: 0,
          top: 0,
          bottom: 0,
          width: EDGE,
          borderRightWidth: header.column.getIsResizing() ? 3 : 1,
          borderColor: header.column.getIsResizing() ? palette.accent : palette.line,
          ...({ cursor: 'col-resize' } as object),
        }}
        {...({
          dataSet: { edge: header.id },
          onMouseDown: header.getResizeHandler(),
          onTouchStart: header.getResizeHandler(),
        } as object)}
      />
    </View>
  );
}

interface Shown<T> {
  readonly column: Column<T>;
  readonly style: object;
}

function DataRow<T>({
  row,
  id,
  shown,
  isChosen,
  toggle,
  nameOf,
  hrefOf,
  onOpen,
  choosing,
}: Props<T> & {
  readonly row: T;
  readonly id: string;
  readonly shown: readonly Shown<T>[];
  readonly isChosen: boolean;
  readonly toggle: (key: string, isThrough: boolean) => void;
}) {
  const palette = usePalette();
  const router = useRouter();
  const href = hrefOf?.(row);
  const go = () => (href === undefined ? onOpen?.(row) : router.navigate(href));
  return (
    <Pressable
      role="row"
      tabIndex={-1}
      onPress={go}
      {...(choosing ? { 'aria-selected': isChosen } : {})}
      style={({ pressed }) => ({
        flexDirection: 'row',
        alignItems: 'stretch',
        minHeight: ROW + 1,
        borderBottomWidth: 1,
        borderColor: palette.line,
        backgroundColor: isChosen || pressed ? palette.tint : 'transparent',
      })}
    >
      {choosing ? (
        <View role="cell" style={{ width: TARGET }}>
          <Box label={`Choose ${nameOf(row)}`} on={isChosen} onPress={(through) => toggle(id, through)} />
        </View>
      ) : null}
      {shown.map(({ column, style }, n) => {
        const words = column.show?.(row) ?? (
          <Words size="small" mono={column.mono ?? false} strong={n === 0} lines={1}>
            {String(column.value(row))}
          </Words>
        );
        const field = { height: ROW, justifyContent: 'center' } as const;
        return (
          <View key={column.id} role="cell" style={style}>
            {n > 0 ? (
              words
            ) : href !== undefined ? (
              <PressLink href={href} inRow style={() => field}>
                {words}
              </PressLink>
            ) : (
              <Pressable role="button" onPress={go} style={field} {...({ dataSet: { row: '' } } as object)}>
                {words}
              </Pressable>
            )}
          </View>
        );
      })}
    </Pressable>
  );
}
