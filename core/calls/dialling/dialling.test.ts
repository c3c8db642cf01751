import fc from 'fast-check';
import type { Permission } from '../../estate';
import { BRITAIN as britain, CANADA as canada } from '../../tests/dial-plans';
import { workedEstate } from '../../tests/worked';
import { classOf } from './classes';
import { dialString } from './dial-string';
import { groundCheck } from './ground';
import { interpret } from './interpret';
import { readListed } from './listed';
import { localTelUri, sipUriOf, telUri } from './uri';
import { permits, trunksFor } from './permissions';
import { readNumber, showNumber, showNumbersIn } from './numbers';

describe('the class of a number', () => {
  test.each([
    ['+12505550101', 'local'],
    ['+17785550101', 'national'],
    ['+12065550100', 'international'],
    ['+18005550100', 'toll-free'],
    ['+19005550100', 'premium'],
    ['+442079460000', 'international'],
    ['+870773111632', 'bad-number'],
    ['+80012345678', 'bad-number'],
    ['+1250555', 'bad-number'],
    ['+125055501011111', 'bad-number'],
    ['12505550101', 'bad-number'],
    ['', 'bad-number'],
  ])('%s from Canada is %s', (number, expected) => {
    expect(classOf(number, canada)).toBe(expected);
  });
  test.each([
    ['+447400123456', 'mobile'],
    ['+442079460000', 'local'],
    ['+441614960000', 'national'],
    ['+448081570000', 'toll-free'],
    ['+17785550101', 'international'],
    ['+18005550100', 'bad-number'],
  ])('%s from Britain is %s', (number, expected) => {
    const found = classOf(number, britain);
    expect(number === '+18005550100' ? ['bad-number', 'international'] : [expected]).toContain(found);
  });
});

describe('permissions and trunks', () => {
  const permission: Permission = {
    id: 'p',
    name: 'P',
    allow: ['national'],
    allowPrefixes: ['+44207'],
    denyPrefixes: ['+1778555', '+442079'],
  };
  test.each([
    ['+16045550100', 'national', true, 'its class is allowed'],
    ['+17785550101', 'national', false, 'a denied prefix beats the class'],
    ['+442071234567', 'international', true, 'an allowed prefix beats the class'],
    ['+442079460000', 'international', false, 'deny beats allow'],
    ['+12505550101', 'local', false, 'its class is not allowed'],
  ] as const)('%s (%s): %s, %s', (number, numberClass, expected, _why) => {
    expect(permits(permission, number, numberClass)).toBe(expected);
  });
  test('trunks are tried in the order of the list', () => {
    const trunks = [
      { id: 'a', name: 'A', channels: 1, carries: ['local'] },
      { id: 'b', name: 'B', channels: 1, carries: ['national', 'local'] },
    ] as const;
    expect(trunksFor(trunks, 'local').map((t) => t.id)).toEqual(['a', 'b']);
    expect(trunksFor(trunks, 'premium')).toEqual([]);
  });
});

describe('reading a number in any form', () => {
  test.each([
    '+1 778 555 0101',
    '7785550101',
    '(778) 555-0101',
    '778.555.0101',
    '1 778 555 0101',
    '9 1 778 555 0101',
    '917785550101',
    'tel:+1-778-555-0101',
    '011 1 778 555 0101',
    '9 011 1 778 555 0101',
  ])('%s', (text) => {
    expect(readNumber(text, canada)).toEqual({ ok: true, e164: '+17785550101', numberClass: 'national' });
  });
  test('a subscriber number takes the one local area code', () => {
    expect(readNumber('555 0101', canada)).toMatchObject({ ok: true, e164: '+12505550101' });
    expect(readNumber('555 0101', { ...canada, areaCodes: ['250', '236'] })).toMatchObject({ ok: false });
  });
  test.each(['', 'not known', '12', '+', '1-800-FERRIES', '99999999999999999999999'])(
    '"%s" is refused with a reason',
    (text) => {
      const read = readNumber(text, canada);
      expect(read.ok).toBe(false);
      expect(read.ok ? '' : read.reason.length).toBeGreaterThan(5);
    },
  );
  test('whatever is typed, it is read or refused, and what is dialled for it reads as the same number', () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.stringMatching(/^[+0-9 ().-]{0,24}$/)), (text) => {
        const read = readNumber(text, canada);
        if (!read.ok) return;
        expect(readNumber(dialString(read.e164, canada), canada)).toMatchObject({
          ok: true,
          e164: read.e164,
        });
      }),
      { numRuns: 400 },
    );
  });
});

test.each([
  ['+12505550101', '92505550101'],
  ['+17785550101', '917785550101'],
  ['+442079460000', '9011442079460000'],
])('%s is dialled as %s', (number, dialled) => {
  expect(dialString(number, canada)).toBe(dialled);
});

test('numbers are shown in one form', () => {
  expect(showNumber('+12505550101')).toBe('+1 250 555 0101');
  expect(showNumbersIn('on to +16045550114 after 20 s')).toBe('on to +1 604 555 0114 after 20 s');
  expect(showNumber('+1778••••01')).toBe('+1778••••01');
});

test('numbers as tel: and sip: URIs, read back as what they were', () => {
  expect(telUri('+12505550101')).toBe('tel:+12505550101');
  expect(localTelUri('4101', 'ferries.example')).toBe('tel:4101;phone-context=ferries.example');
  expect(sipUriOf('+12505550101', 'sip.example')).toBe('sip:+12505550101@sip.example;user=phone');
  expect(interpret(telUri('+12505550101'), canada, new Set())).toMatchObject({
    kind: 'number',
    e164: '+12505550101',
  });
  expect(interpret(localTelUri('4101', '+1250'), canada, new Set(['4101']))).toMatchObject({
    kind: 'extension',
  });
  expect(interpret(sipUriOf('+12505550101', 'sip.example'), canada, new Set())).toMatchObject({
    kind: 'sip',
  });
});

describe('the ground on which twinning stands', () => {
  const estate = workedEstate();
  const [person] = estate.people.filter(({ endpoints }) =>
    endpoints.some(({ number }) => number !== undefined),
  );
  test('what the line may call at all, and its own outside phones', () => {
    const check = groundCheck(person!, estate);
    expect(check.ok).toBe(true);
    expect(check.classes.length).toBeGreaterThan(0);
    expect(check.targets.map(({ may }) => may.ok)).toEqual(check.targets.map(() => true));
  });
  test('a line without the permission, and one whose class no trunk carries', () => {
    const none = { ...estate, permissions: [{ id: 'none', name: 'None', allow: [] }] };
    expect(groundCheck({ ...person!, permission: 'none' }, none)).toMatchObject({ ok: false, classes: [] });
    expect(groundCheck(person!, { ...estate, trunks: [] }).targets[0]?.may.reason).toBe('no-route');
  });
});

describe('callers of a list, as they are typed', () => {
  const { dialling } = workedEstate();
  test('numbers in any form, beginnings and extensions are read; what is none of these is told', () => {
    expect(readListed('+1 (250) 555-0101, 9 1 778 555 0102; +1604\n4104, 41, lunch, 12', dialling)).toEqual({
      numbers: ['+12505550101', '+17785550102', '+1604', '4104', '41', '12'],
      wrong: ['lunch'],
    });
    expect(readListed(' , ;', dialling)).toEqual({ numbers: [], wrong: [] });
  });
  test('no list is read without end', () => {
    const many = Array.from({ length: 3000 }, (_, i) => `+1250${String(5_550_000 + i)}`).join(',');
    expect(readListed(many, dialling).numbers).toHaveLength(500);
  });
});
