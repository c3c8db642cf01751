import fc from 'fast-check';
import { matchesMap, readDigitMap, SYMBOLS } from './digit-map';

const mapOf = (text: string) => {
  const read = readDigitMap(text);
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  return read.map;
};
const fits = (text: string, dialled: string) => matchesMap(mapOf(text), dialled);

test('positions, spans, repeats and alternatives, over the whole string', () => {
  const cases: readonly (readonly [string, string, boolean])[] = [
    ['0', '0', true],
    ['0', '00', false],
    ['xxxx', '4101', true],
    ['xxxx', '410', false],
    ['xxxx', '41*1', false],
    ['[2-9]xx', '210', true],
    ['[2-9]xx', '110', false],
    ['[13-5*]', '*', true],
    ['[13-5*]', '2', false],
    ['9011x.', '9011', true],
    ['9011x.', '9011442079460000', true],
    ['x.5', '12345', true],
    ['x.5', '5', true],
    ['x.5', '', false],
    ['(0|911|9[2-9]xx)', '9210', true],
    ['(0|911|9[2-9]xx)', '911', true],
    ['(0|911|9[2-9]xx)', '9110', false],
    ['+1x.', '+12505550101', true],
    ['+1x.', '12505550101', false],
    ['*x#', '*7#', true],
    ['aD', 'AD', true],
  ];
  for (const [map, dialled, expected] of cases)
    expect([map, dialled, fits(map, dialled)]).toEqual([map, dialled, expected]);
});

test('faults have their places', () => {
  const cases: readonly (readonly [string, number, RegExp])[] = [
    ['', 1, /empty/],
    ['()', 2, /empty/],
    ['(1||2)', 4, /empty/],
    ['(1|2', 5, /not closed/],
    ['1|2', 2, /in brackets/],
    ['((1)|2)', 2, /cannot stand in brackets/],
    ['12T', 3, /timer/],
    ['1[2T]', 4, /timer/],
    ['.5', 1, /needs a position/],
    ['x..', 3, /already/],
    ['1[29', 2, /not closed/],
    ['1[]', 2, /empty/],
    ['[9-2]', 2, /backwards/],
    ['[2-]', 2, /digit to a digit/],
    ['1z', 2, /"z" is no part/],
    ['1+', 2, /beginning/],
    ['x'.repeat(1001), 1001, /more than 1000 positions/],
    ['x'.repeat(5000), 4001, /longer than/],
  ];
  for (const [text, at, message] of cases) {
    const read = readDigitMap(text);
    expect([text.slice(0, 20), read.ok]).toEqual([text.slice(0, 20), false]);
    if (!read.ok)
      expect([text.slice(0, 20), read.faults[0]]).toEqual([
        text.slice(0, 20),
        { at, message: expect.stringMatching(message) },
      ]);
  }
});

const position = fc.oneof(
  fc.constantFrom('x', ...'0123456789*#'),
  fc
    .uniqueArray(fc.constantFrom(...'0123456789'), { minLength: 1, maxLength: 4 })
    .map((all) => `[${all.join('')}]`),
);
const alternative = fc
  .array(fc.tuple(position, fc.boolean()), { minLength: 1, maxLength: 6 })
  .map((all) => all.map(([text, repeats]) => text + (repeats ? '.' : '')).join(''));
const maps = fc.array(alternative, { minLength: 1, maxLength: 3 }).map((all) => `(${all.join('|')})`);

test('it agrees with a regular expression of the same meaning', () => {
  fc.assert(
    fc.property(
      maps,
      fc.string({ unit: fc.constantFrom(...'0123456789*#'), maxLength: 8 }),
      (map, dialled) => {
        const same = new RegExp(
          `^${map
            .replace(/[*]/g, '\\*')
            .replace(/(\\\*|\[[^\]]*\]|[x0-9#])\./g, '$1{0,}')
            .replace(/x/g, '[0-9]')}$`,
        );
        expect([map, dialled, fits(map, dialled)]).toEqual([map, dialled, same.test(dialled)]);
      },
    ),
    { numRuns: 2000 },
  );
});

test('a map that would drive a regular expression mad takes no longer for it', () => {
  expect(fits(`${'x.'.repeat(400)}#`, '1'.repeat(3000))).toBe(false);
});

test('no text of any kind hurts the reader; what is read, matches or not', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 40 }), fc.string({ maxLength: 20 }), (text, dialled) => {
      const read = readDigitMap(text);
      if (read.ok) expect(typeof matchesMap(read.map, dialled)).toBe('boolean');
      else expect(read.faults.length).toBeGreaterThan(0);
    }),
  );
  expect(SYMBOLS).toHaveLength(17);
});
