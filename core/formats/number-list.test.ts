import fc from 'fast-check';
import { listDifference, readNumberList } from './number-list';
import { looksLikeLdif, readLdif } from './ldif';
import { CANADA as dialling } from '../tests/dial-plans';

const read = (text: string, field?: string) => {
  const done = readNumberList(text, dialling, field);
  if (!done.ok) throw new Error(JSON.stringify(done.faults));
  return done.list;
};
const faults = (text: string) => {
  const done = readNumberList(text, dialling);
  return done.ok ? [] : done.faults;
};

describe('LDIF (RFC 2849)', () => {
  const text = [
    'version: 1',
    '# staff with phones on two systems',
    ' and a comment that goes on',
    'dn: cn=Ada Example,ou=deck,dc=example',
    'objectClass: person',
    'telephoneNumber: +1 250 555 0101',
    'telephoneNumber;lang-en: +1 250 55',
    ' 5 0102',
    'mobile:: KzEgNzc4IDU1NSAwMTAz',
    '',
    '',
    'dn:: Y249QsOpYSxkYz1leGFtcGxl',
    'telephonenumber: 555 0104',
    'telephoneNumber: none',
  ].join('\r\n');

  test('folded lines, comments, options, several values, base64', () => {
    const ldif = readLdif(text);
    expect(ldif).toMatchObject({
      ok: true,
      entries: [
        { line: 4, dn: 'cn=Ada Example,ou=deck,dc=example' },
        { line: 12, dn: 'cn=Béa,dc=example' },
      ],
    });
    if (!ldif.ok) return;
    expect(ldif.entries[0]?.attributes).toContainEqual({
      name: 'telephonenumber',
      value: '+1 250 555 0102',
      line: 7,
    });
    expect(ldif.entries[0]?.attributes).toContainEqual({ name: 'mobile', value: '+1 778 555 0103', line: 9 });
    expect(read(text)).toMatchObject({
      format: 'ldif',
      records: 2,
      field: 'telephonenumber',
      numbers: ['+12505550101', '+12505550102', '+12505550104'],
      refused: 1,
      refusals: [{ line: 14, text: 'none' }],
    });
    expect(read(text, 'mobile').numbers).toEqual(['+17785550103']);
  });

  test.each<[string, string, number, RegExp]>([
    ['bad base64', 'dn: a\ntelephoneNumber:: ***', 2, /no base64/],
    ['base64 that is no text', 'dn: a\ntelephoneNumber:: /////w==', 2, /UTF-8/],
    ['a URL', 'dn: a\njpegPhoto:< file:///x', 2, /URL/],
    ['a change record', 'dn: a\nchangetype: delete', 2, /changes/],
    ['no name and value', 'dn: a\ngarbage', 2, /name: value/],
    ['an entry without a dn', 'version: 1\n\nmobile: 1', 3, /dn/],
    ['a blank line that is missing', 'dn: a\nmobile: 1\ndn: b', 3, /blank line/],
    ['another version', 'version: 2\n\ndn: a', 1, /version 2/],
  ])('%s: a fault with its line', (_what, given, line, message) => {
    expect(faults(given)).toContainEqual(
      expect.objectContaining({ line, message: expect.stringMatching(message) }),
    );
  });

  test('no text hurts it', () => {
    fc.assert(
      fc.property(
        fc.string({
          unit: fc.constantFrom('d', 'n', ':', ' ', '\n', '=', '#', '<', '1', ';'),
          maxLength: 80,
        }),
        (given) => {
          const done = readLdif(given);
          if (!done.ok) expect(done.faults.length).toBeGreaterThan(0);
        },
      ),
    );
  });
});

describe('CSV', () => {
  test('the column that has most numbers, or the one that is asked for', () => {
    const text = 'Name;Desk;Mobile\r\nAda;+1 250 555 0101;778 555 0101\r\nBea;;+1 778 555 0102\r\n';
    expect(read(text)).toMatchObject({
      format: 'csv',
      field: 'Mobile',
      numbers: ['+17785550101', '+17785550102'],
    });
    expect(read(text, 'desk').numbers).toEqual(['+12505550101']);
    expect(readNumberList(text, dialling, 'fax').ok).toBe(false);
  });
  test('numbers alone, repeated ones once, what is none with its line', () => {
    expect(read('+1 250 555 0101\n250-555-0102\n+12505550101\nlater\n')).toMatchObject({
      numbers: ['+12505550101', '+12505550102'],
      repeated: 1,
      refusals: [{ line: 4, text: 'later' }],
    });
  });
  test('nothing in it, no number in it', () => {
    expect(faults('')).toMatchObject([{ message: expect.stringContaining('nothing') }]);
    expect(faults('Name,Place\nAda,Yard\n')).toMatchObject([{ message: 'there is no number in it' }]);
  });
  test('a list of a million lines is refused', () => {
    const line = '+12505550101\n';
    expect(faults(line.repeat(1_000_000))).toMatchObject([{ message: expect.stringContaining('rows') }]);
  });
});

test('LDIF is told from a table by its first line', () => {
  expect(looksLikeLdif('# x\n\ndn: a')).toBe(true);
  expect(looksLikeLdif('dn,mobile\n')).toBe(false);
});

test('the difference between two lists', () => {
  expect(listDifference(['+1', '+2'], ['+2', '+3'])).toEqual({ added: ['+3'], removed: ['+1'], kept: 1 });
});
