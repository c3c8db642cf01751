import fc from 'fast-check';
import { maskDeep, maskNumber, maskText } from '.';

const own = (number: string) => number === '+12505550101';

test('the country, the area and the last two digits stay', () => {
  expect(maskNumber('+17785550101')).toBe('+1778••••01');
});
test('own numbers stay, private ones are masked wherever they stand, in names of fields too', () => {
  const value = { a: ['+12505550101', 'on to +17785550101 after 5 s'], '+17785550101': { end: null, n: 5 } };
  expect(maskDeep(value, own)).toEqual({
    a: ['+12505550101', 'on to +1778••••01 after 5 s'],
    '+1778••••01': { end: null, n: 5 },
  });
});
test('no private number gets through whole, whatever stands around it', () => {
  const digits = fc.stringMatching(/^[1-9]\d{7,14}$/);
  fc.assert(
    fc.property(digits, fc.string(), fc.string(), (number, before, after) => {
      const masked = maskText(`${before} +${number} ${after}`, () => false);
      expect(masked).not.toContain(`+${number}`);
    }),
  );
});
test('prefixes in rules are no numbers', () => {
  expect(maskText('+1604', () => false)).toBe('+1604');
});

test('numbers shown in groups are masked like whole ones; what follows them stays', () => {
  const none = () => false;
  expect(maskText('The mobile (+1 672 555 0105) never rings.', none)).toBe(
    'The mobile (+1672••••05) never rings.',
  );
  expect(maskText('+1 672 555 0105: after 20 s', (number) => number === '+16725550105')).toBe(
    '+1 672 555 0105: after 20 s',
  );
});
