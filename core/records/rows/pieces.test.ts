import fc from 'fast-check';
import { jsonPieces, type Piece } from './pieces';

/** Reads a text that comes in parts of some length. */
function read(text: string, partOf = 7, most?: number): readonly Piece[] {
  const pieces = jsonPieces(most);
  const all: Piece[] = [];
  for (let at = 0; at < text.length; at += partOf) all.push(...pieces.push(text.slice(at, at + partOf)));
  return [...all, ...pieces.end()];
}
const values = (pieces: readonly Piece[]) =>
  pieces.map((piece) => ('text' in piece ? (JSON.parse(piece.text) as unknown) : piece));

const VALUE = fc.dictionary(fc.string(), fc.jsonValue({ maxDepth: 3 }));

test('a list and lines of the same values give the same, whatever parts they come in', () => {
  fc.assert(
    fc.property(
      fc.array(VALUE, { maxLength: 8 }),
      fc.integer({ min: 1, max: 40 }),
      fc.nat(4),
      (all, part, indent) => {
        const wanted = JSON.parse(JSON.stringify(all)) as unknown[];
        expect(values(read(JSON.stringify(all, null, indent), part))).toEqual(wanted);
        expect(values(read(all.map((each) => `${JSON.stringify(each)}\n`).join(''), part))).toEqual(wanted);
      },
    ),
  );
});

test('each is told with the line at which it begins', () => {
  expect(read('\n[\n {"a":1},\n\n {\n"b": "]},\\"["\n}\n]\n').map(({ line }) => line)).toEqual([3, 5]);
  expect(read('{"a":1}\n\n{"b":2}\n').map(({ line }) => line)).toEqual([1, 3]);
});

const CUT = 'the list does not end: the file is cut off';
// A value of a list is given once it is known to be whole: at the comma or the end behind it.
test.each([
  [
    '[{"a":1},{"b":',
    [
      { line: 1, text: '{"a":1}' },
      { line: 1, fault: CUT },
    ],
  ],
  ['[{"a":1}', [{ line: 1, fault: CUT }]],
  [
    '[{"a":1}]\n{"b":2}',
    [
      { line: 1, text: '{"a":1}' },
      { line: 2, fault: 'something stands after the end of the list' },
    ],
  ],
  ['[]', []],
  ['', []],
  [' \n ', []],
])('%j is read as far as it goes', (text, wanted) => {
  expect(read(text)).toEqual(wanted);
});

test('a value without end is given up, and nothing behind it is read', () => {
  const pieces = read(`[{"a":"${'x'.repeat(500)}"},{"b":1}]`, 50, 100);
  expect(pieces).toEqual([{ line: 1, fault: 'is longer than is read' }]);
  expect(read(`${'x'.repeat(500)}\n{"b":1}\n`, 50, 100)).toEqual([
    { line: 1, fault: 'is longer than is read' },
  ]);
});
