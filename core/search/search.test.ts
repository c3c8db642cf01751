import { matcher } from '.';

const people = [
  { name: 'Ines Okafor', extension: '4101', numbers: ['+12505550101', '+17785550101'] },
  { name: 'Ólafur Brand-Smith', extension: '4102', numbers: ['+442079460000'] },
];
const found = (query: string) =>
  people.filter(matcher(query, ['9011', '91', '9', '1'])).map((p) => p.name.split(' ')[0]);

test.each([
  ['', ['Ines', 'Ólafur']],
  ['ine', ['Ines']],
  ['oka ine', ['Ines']],
  ['olaf', ['Ólafur']],
  ['smith', ['Ólafur']],
  ['kafor', []],
  ['4101', ['Ines']],
  ['41', ['Ines', 'Ólafur']],
  ['(778) 555-0101', ['Ines']],
  ['9 1 778 555 0101', ['Ines']],
  ['+1 250 555 0101', ['Ines']],
  ['9011 44 20 7946', ['Ólafur']],
  ['0101', ['Ines']],
])('%j finds %j', (query, names) => {
  expect(found(query)).toEqual(names);
});
