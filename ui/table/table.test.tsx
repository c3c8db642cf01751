import { fireEvent, screen } from '@testing-library/react-native';
import { useState } from 'react';
import { useTables } from '../data/tables';
import { show } from '../tests/render';
import { chosenAfter, fitWidth, type Column } from './columns';
import { DataTable } from './DataTable';

interface Ferry {
  readonly id: string;
  readonly name: string;
  readonly decks: number;
}
const FERRIES: readonly Ferry[] = [
  { id: 'b', name: 'Bramble', decks: 10 },
  { id: 'a', name: 'Alder', decks: 9 },
  { id: 'c', name: 'Cedar', decks: 2 },
];
const COLUMNS: readonly Column<Ferry>[] = [
  { id: 'name', title: 'Name', width: 100, value: ({ name }) => name },
  { id: 'decks', title: 'Decks', width: 80, value: ({ decks }) => decks },
  { id: 'id', title: 'Id', width: 80, isExtra: true, value: ({ id }) => `id ${id}` },
];

let chosen: ReadonlySet<string> = new Set();
function Fleet({ opened = () => undefined }: { readonly opened?: (row: Ferry) => void }) {
  const [now, setNow] = useState<ReadonlySet<string>>(new Set());
  chosen = now;
  return (
    <DataTable
      name="fleet"
      label="Ferries"
      columns={COLUMNS}
      rows={FERRIES}
      keyOf={({ id }) => id}
      nameOf={({ name }) => name}
      onOpen={opened}
      choosing={{ chosen: now, onChosen: setNow }}
    />
  );
}
const names = () =>
  screen
    .getAllByRole('checkbox')
    .slice(1)
    .map((box) => String(box.props['aria-label'] ?? box.props.accessibilityLabel).replace('Choose ', ''));

beforeEach(() => useTables.setState({ tables: {} }));

test('sorted by a column, then the other way round, then as given; numbers as numbers', async () => {
  await show(<Fleet />);
  const sort = (title: string) => fireEvent.press(screen.getByRole('button', { name: title }));
  expect(names()).toEqual(['Bramble', 'Alder', 'Cedar']);
  await sort('Name');
  expect(names()).toEqual(['Alder', 'Bramble', 'Cedar']);
  await sort('Name');
  expect(names()).toEqual(['Cedar', 'Bramble', 'Alder']);
  await sort('Name');
  expect(names()).toEqual(['Bramble', 'Alder', 'Cedar']);
  await sort('Decks');
  expect(names()).toEqual(['Cedar', 'Alder', 'Bramble']);
  expect(useTables.getState().tables.fleet?.sorting).toEqual([{ id: 'decks', desc: false }]);
});

test('a column is shown and hidden, made wider, and all of it put back', async () => {
  await show(<Fleet />);
  expect(screen.queryByText('id a')).toBeNull();
  await fireEvent.press(screen.getByRole('button', { name: 'Columns' }));
  await fireEvent.press(screen.getByRole('checkbox', { name: 'Id' }));
  await fireEvent.press(screen.getByRole('checkbox', { name: 'Decks' }));
  await fireEvent.press(screen.getByRole('button', { name: 'Wider: Name' }));
  expect(screen.getByText('id a')).toBeTruthy();
  expect(useTables.getState().tables.fleet).toMatchObject({
    shown: { id: true, decks: false },
    widths: { name: 132 },
  });
  await fireEvent.press(screen.getByRole('button', { name: 'As at first' }));
  expect(screen.queryByText('id a')).toBeNull();
});

test('rows are chosen one by one and all at once, and a row is opened', async () => {
  const opened: string[] = [];
  await show(<Fleet opened={({ id }) => void opened.push(id)} />);
  await fireEvent.press(screen.getByRole('checkbox', { name: 'Choose Alder' }));
  expect([...chosen]).toEqual(['a']);
  await fireEvent.press(screen.getByRole('checkbox', { name: 'Choose all 3' }));
  expect([...chosen].sort()).toEqual(['a', 'b', 'c']);
  await fireEvent.press(screen.getByRole('checkbox', { name: 'Choose none' }));
  expect(chosen.size).toBe(0);
  await fireEvent.press(screen.getByRole('button', { name: 'Cedar' }));
  expect(opened).toEqual(['c']);
});

test.each([
  ['one', [], 'b', null, ['b']],
  ['one less', ['b'], 'b', null, []],
  ['all between', ['a'], 'd', 'b', ['a', 'b', 'c', 'd']],
  ['all between, upwards', [], 'a', 'c', ['a', 'b', 'c']],
  ['all between less', ['a', 'b', 'c', 'd'], 'c', 'b', ['a', 'd']],
  ['from one that is not shown any more', ['x'], 'b', 'x', ['b', 'x']],
])('choosing %s', (_what, before, key, through, after) => {
  expect([...chosenAfter(new Set(before), ['a', 'b', 'c', 'd'], key, through)].sort()).toEqual(after);
});

test.each([
  [10, 64],
  [100.4, 100],
  [9000, 640],
])('a width of %d is kept as %d', (width, kept) => {
  expect(fitWidth(width)).toBe(kept);
});
