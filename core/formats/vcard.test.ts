import { workedEstate } from '../tests/worked';
import { matchColumns, staffPlanner } from './staff-csv';
import { readCsv } from './csv';
import { readVCards, writeVCard } from './vcard';

const estate = workedEstate();
const rowsOf = (text: string) => {
  const cards = readVCards(text);
  if (!cards.ok) throw new Error(JSON.stringify(cards.faults));
  const csv = readCsv(cards.csv);
  if (!csv.ok) throw new Error('unreadable');
  return { rows: csv.table.rows.map((row) => row.cells), notes: cards.notes, table: csv.table };
};
const card = (...lines: string[]) => ['BEGIN:VCARD', 'VERSION:4.0', ...lines, 'END:VCARD', ''].join('\r\n');

test('people written as cards and read again are the same people: the staff import would change nothing', () => {
  const people = estate.people.filter(({ id }) => id !== 'amara');
  const { table } = rowsOf(people.map((person) => writeVCard(person, estate.name)).join(''));
  const planner = staffPlanner(estate, matchColumns(table.headings));
  expect(table.rows.map((row) => planner.planRow(row).action)).toEqual(people.map(() => 'same'));
});
test('a card names its numbers by what they are', () => {
  const text = writeVCard(
    estate.people.find(({ id }) => id === 'tomasz')!,
    'Ferries; and more',
  );
  expect(text).toContain('TEL;VALUE=uri;TYPE="work,voice":tel:+12505550102;ext=4102\r\n');
  expect(text).toContain('TEL;VALUE=uri;TYPE="cell,voice":tel:+17785550102\r\n');
  expect(text).toContain('N:Bright;Tomasz;;;\r\n');
  expect(text).toContain('ORG:Ferries\\; and more\r\n');
});
test('cards of others: types in any case, extensions as plain numbers, fax left out, no name told by line', () => {
  const { rows, notes } = rowsOf(
    card(
      'FN:Odile Brackwater',
      'TEL;TYPE=CELL:+1 778 555 0191',
      'TEL;TYPE=work:4230',
      'TEL;TYPE=fax:+12505550199',
    ) + card('TEL;TYPE=home:+16045550101'),
  );
  expect(rows).toEqual([['Odile Brackwater', '4230', '', '+17785550191', '']]);
  expect(notes).toEqual(['line 8: a card without a name (FN) was left out']);
});
test.each(['', 'hello', 'BEGIN:VCARD\r\nno colon here\r\nEND:VCARD\r\n'])(
  '%j is told as no vCard',
  (text) => {
    const read = readVCards(text);
    expect(read.ok && read.cards > 0).toBe(false);
  },
);
