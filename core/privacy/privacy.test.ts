import fc from 'fast-check';
import { maskDeep, maskNumber, maskSip, maskText } from '.';

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

test.each([
  ['+1 (778) 555-0199', '+1778••••99'],
  ['778-555-0199', '778••••99'],
  ['+1.778.555.0199', '+1778••••99'],
  ['001 778 555 0199', '001778••••99'],
  ['Wife (778) 555 0199, after six', 'Wife 778••••99, after six'],
  ['17785550199', '1778••••99'],
  ['call 5550199 now', 'call ••••99 now'],
  ['+1–778–555–0199', '+1778••••99'],
])('a number is masked however a person writes it: %s', (text, masked) => {
  expect(maskText(text, () => false)).toContain(masked);
});

test.each([
  '2026-11-24T18:00:00.000Z',
  '2026-11-25T10:00:00-07:00',
  '24.11.2026',
  '127.0.45.1',
  '127.0.0.1:5060',
  '02F0AA000001',
  'v3.4.10',
  'extension 4101, code *21',
  'a1b2c3d4-1234-5678-9012-123456789012',
  'after 20000 ms',
])('what only looks like one stays: %s', (text) => {
  expect(maskText(text, () => false)).toBe(text);
});

test('numbers of the organisation stay, however they are written', () => {
  for (const text of [
    '+1 250 555 0101',
    '(250) 555-0101',
    '1 250 555 0101',
    '001 250 555 0101',
    '011 1 250 555 0101',
  ])
    expect(maskText(text, own)).toBe(text);
});

test('long texts of digits and signs are gone through once', () => {
  // Neither doubles the work with each sign more: a text of this length would never end.
  for (const text of ['1 ('.repeat(20_000), `${'(1.'.repeat(20_000)}x`, ' '.repeat(60_000)])
    expect(maskText(text, () => true)).toBe(text);
});

test('in a SIP message numbers are masked however they were dialled, and it keeps its length', () => {
  const masked = (uri: string) => {
    const message = `INVITE ${uri} SIP/2.0\r\nFrom: <${uri}>;tag=1\r\n`;
    const hidden = maskSip(message, own);
    expect(hidden).toHaveLength(message.length);
    return hidden.split(' ')[1];
  };
  expect(masked('sip:+17785550199@127.0.0.1:5060;user=phone')).toBe(
    'sip:+1778xxxxx99@127.0.0.1:5060;user=phone',
  );
  expect(masked('sip:%2B17785550199@hostler')).toBe('sip:%2B1778xxxxx99@hostler');
  expect(masked('sip:6045550199@127.0.0.1')).toBe('sip:6045xxxx99@127.0.0.1');
  expect(masked('sip:901144207946012@hostler')).toBe('sip:9011xxxxxxxxx12@hostler');
  expect(masked('tel:6045550199;phone-context=+1')).toBe('tel:6045xxxx99;phone-context=+1');
  // The organisation's own stay, written with their country or without, as do extensions, hosts and names.
  for (const uri of [
    'sip:+12505550101@hostler',
    'sip:2505550101@hostler',
    'sip:12505550101@hostler',
    'sip:4101@hostler',
    'sip:192.168.100.200:50600',
    'sip:ines-desk-20261130@hostler',
  ])
    expect(masked(uri)).toBe(uri);
});
