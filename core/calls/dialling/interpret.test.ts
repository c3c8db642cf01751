import fc from 'fast-check';
import { getCountries, getExampleNumber, type CountryCode } from 'libphonenumber-js/max';
import examples from 'libphonenumber-js/examples.mobile.json';
import type { Dialling, Estate } from '../../estate';
import * as plans from '../../tests/dial-plans';
import { workedEstate } from '../../tests/worked';
import { ambiguities } from './ambiguities';
import { classOf } from './classes';
import { DIAL_FAULTS, interpret, type Interpreted } from './interpret';
import { dialString } from './dial-string';
import { mayDial, permissionsFor } from './may-dial';

const CANADA: Dialling = { ...plans.CANADA, codes: [{ code: '*55', does: 'Picks up a held call' }] };
const { BRITAIN } = plans;
const EXTENSIONS = new Set(['4101', '4102']);
const read = (text: string, dialling = CANADA, extensions: ReadonlySet<string> = EXTENSIONS) =>
  interpret(text, dialling, extensions);

describe('what somebody typed', () => {
  const national: Partial<Interpreted> = {
    kind: 'number',
    e164: '+17785550101',
    class: 'national',
    dialAs: '917785550101',
    faults: [],
  };
  const local: Partial<Interpreted> = {
    kind: 'number',
    e164: '+12505550101',
    class: 'local',
    dialAs: '92505550101',
    faults: [],
  };
  const abroad: Partial<Interpreted> = {
    kind: 'number',
    e164: '+442079460000',
    class: 'international',
    dialAs: '9011442079460000',
    faults: [],
  };
  test.each<[string, Partial<Interpreted>]>([
    ['4101', { kind: 'extension', extension: '4101', dialAs: '4101', faults: [], notes: [] }],
    [' 41-01 ', { kind: 'extension', extension: '4101' }],
    ['+1 778 555 0101', { ...national, notes: [] }],
    ['tel:+1-778-555-0101;ext=12', { ...national, notes: [] }],
    ['(+1) 778.555/0101', { ...national, notes: [] }],
    ['9 1 778 555 0101', { ...national, notes: [] }],
    ['1 778 555 0101', { ...national, notes: ['outside-code-added'] }],
    ['778 555 0101', { ...national, notes: ['outside-code-added'] }],
    ['9 250 555 0101', { ...local, notes: [] }],
    ['250 555 0101', { ...local, notes: ['outside-code-added'] }],
    ['9 1 250 555 0101', { ...local, notes: [] }],
    ['555 0101', { ...local, notes: ['area-code-added'] }],
    ['9 011 44 20 7946 0000', { ...abroad, notes: [] }],
    ['011 44 20 7946 0000', { ...abroad, notes: ['outside-code-added'] }],
    ['+44 (0)20 7946 0000', { ...abroad, notes: [] }],
    ['sip:ines@example.com', { kind: 'sip', uri: 'sip:ines@example.com', faults: [] }],
    ['ines@example.com:5070', { kind: 'sip', uri: 'sip:ines@example.com:5070', faults: [] }],
    ['sips:4101@[2001:db8::1];transport=tcp', { kind: 'sip', faults: [] }],
    ['*55', { kind: 'code', code: '*55', dialAs: '*55', faults: [] }],
  ])('%j', (text, expected) => {
    expect(read(text)).toMatchObject(expected);
  });
  test('what is nothing to dial has its fault', () => {
    const cases: readonly (readonly [string, string, Dialling?])[] = [
      ['', 'empty'],
      ['  ( ) ', 'empty'],
      ['1-800-FERRIES', 'letters'],
      ['4199', 'no-such-extension'],
      ['*99', 'no-such-code'],
      ['#', 'no-such-code'],
      ['911', 'emergency-number'],
      ['9 911', 'emergency-number'],
      ['112', 'emergency-number'],
      ['999', 'emergency-number', BRITAIN],
      ['9 9 1 778 555 0101', 'outside-code-twice'],
      ['555 0101', 'which-area', { ...CANADA, areaCodes: ['250', '778'] }],
      ['+1 778 555', 'too-short'],
      ['1 778 555', 'too-short'],
      ['+1 778 555 0101 0101 01', 'too-long'],
      ['9 1 778 555 0101 0101 01', 'too-long'],
      ['12;34', 'too-short'],
      ['778 555 01O1', 'letters'],
      ['7785550101!', 'not-a-number'],
      ['sip:', 'not-a-number'],
      ['a@b:99999', 'not-a-number'],
      ['two words@example.com', 'not-a-number'],
    ];
    for (const [text, fault, dialling] of cases)
      expect([text, read(text, dialling)]).toEqual([text, { kind: 'invalid', faults: [fault], notes: [] }]);
  });
  test.each([40, 400, 100_000])('%d digits are too many', (length) => {
    expect(read('1'.repeat(length)).faults).toEqual(['too-long']);
  });
  test('an extension comes before everything that its digits could be', () => {
    expect(read('911', { ...CANADA, extensionDigits: 3 }, new Set(['911'])).kind).toBe('extension');
  });
  test('no text of any kind hurts it, and whatever it says is one of the known faults', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary', maxLength: 60 }),
        fc.constantFrom(CANADA, BRITAIN),
        (text, dialling) => {
          const { kind, faults } = read(text, dialling);
          expect(faults).toHaveLength(kind === 'invalid' ? 1 : 0);
          for (const fault of faults) expect(DIAL_FAULTS).toContain(fault);
        },
      ),
      { numRuns: 3000 },
    );
  });
});

/** A number of a country: its example with other last digits, where that still is one. */
const numberOf = (country: CountryCode, last: string): string | null => {
  const example = getExampleNumber(country, examples)?.number;
  if (!example) return null;
  return example.slice(0, -last.length) + last;
};
const anyPlan = fc.record({
  country: fc.constantFrom<CountryCode>(
    'CA',
    'US',
    'GB',
    'DE',
    'FR',
    'IT',
    'ES',
    'CH',
    'JP',
    'AU',
    'BR',
    'IN',
    'NO',
    'SG',
  ),
  areaCodes: fc.uniqueArray(fc.stringMatching(/^[1-9]\d{1,2}$/), { maxLength: 3 }),
  outsideCode: fc.constantFrom('', '0', '8', '9', '99', '#9'),
  nationalPrefix: fc.constantFrom('', '0', '1', '8'),
  internationalPrefix: fc.constantFrom('00', '011', '0011', '010', '+'.slice(1)),
  localWithPrefix: fc.boolean(),
  extensionDigits: fc.integer({ min: 2, max: 6 }),
});

test('where a dial plan does not contradict itself, what is dialled for a number is read as that number', () => {
  let through = 0;
  fc.assert(
    fc.property(
      anyPlan,
      fc.uniqueArray(fc.stringMatching(/^[1-8]\d{3}$/), { maxLength: 4 }),
      fc.array(fc.tuple(fc.constantFrom(...getCountries()), fc.stringMatching(/^\d{3}$/)), {
        minLength: 12,
        maxLength: 12,
      }),
      fc.array(fc.stringMatching(/^\d{3}$/), { minLength: 6, maxLength: 6 }),
      (plan, extensions, abroad, atHome) => {
        if (ambiguities(plan, extensions).length > 0) return;
        const known = new Set(extensions);
        for (const [country, last] of [...abroad, ...atHome.map((each) => [plan.country, each] as const)]) {
          const e164 = numberOf(country, last);
          if (!e164 || classOf(e164, plan) === 'bad-number') continue;
          through += 1;
          const dialled = dialString(e164, plan);
          expect([plan, dialled, interpret(dialled, plan, known).e164]).toEqual([plan, dialled, e164]);
        }
      },
    ),
    { numRuns: 30, endOnFailure: true },
  );
  expect(through).toBeGreaterThan(60);
});

describe('a dial plan that contradicts itself', () => {
  test('a usual one does not', () => {
    expect(ambiguities(CANADA, ['4101', '4102'])).toEqual([]);
    expect(ambiguities(BRITAIN, ['4101'])).toEqual([]);
  });
  test('an extension beside the outside code, the smallest one', () => {
    expect(ambiguities(CANADA, ['9160', '4101', '9150'])).toMatchObject([
      { kind: 'extension-begins-outside', example: '9150' },
    ]);
  });
  test('an extension that is also what is dialled for a number', () => {
    const plan: Dialling = {
      ...CANADA,
      country: 'NO',
      areaCodes: [],
      outsideCode: '',
      nationalPrefix: '',
      internationalPrefix: '00',
      extensionDigits: 8,
    };
    expect(ambiguities(plan, ['22123456'])).toContainEqual(
      expect.objectContaining({ kind: 'extension-is-number', meant: '+4722123456' }),
    );
  });
  test('two forms that read the same, with a number that is taken for another', () => {
    const [found] = ambiguities({ ...BRITAIN, internationalPrefix: '0' }, []);
    expect(found).toMatchObject({ kind: 'two-numbers' });
    const again = read(found!.example, { ...BRITAIN, internationalPrefix: '0' }, new Set());
    expect(again.e164).not.toBe(found!.meant);
    expect(dialString(found!.meant, { ...BRITAIN, internationalPrefix: '0' })).toBe(found!.example);
  });
});

describe('whether a line may call', () => {
  const estate: Estate = workedEstate();
  const person = (permission: string) => ({ permission });
  const first = estate.permissions.find(({ allow }) => allow.includes('national'));
  test('the trunk that carries it, or what is heard', () => {
    expect(mayDial(person(first!.id), '+17785550101', estate)).toMatchObject({
      ok: true,
      trunk: expect.any(String),
    });
    expect(mayDial(person('none'), '+17785550101', estate)).toMatchObject({
      ok: false,
      reason: 'not-permitted',
      heard: expect.stringContaining('403'),
    });
    expect(mayDial(person(first!.id), '+19', estate)).toMatchObject({ ok: false, reason: 'bad-number' });
    expect(mayDial(person(first!.id), '+17785550101', { ...estate, trunks: [] })).toMatchObject({
      reason: 'no-route',
    });
    const full = estate.trunks.map((trunk) => ({ ...trunk, channels: 0 }));
    expect(mayDial(person(first!.id), '+17785550101', { ...estate, trunks: full })).toMatchObject({
      reason: 'no-channel',
      class: expect.any(String),
    });
  });
  test('the permissions that would allow it, the narrowest first', () => {
    const found = permissionsFor('+17785550101', estate);
    expect(found.length).toBeGreaterThan(0);
    for (const permission of found)
      expect(mayDial(person(permission.id), '+17785550101', estate).ok).toBe(true);
    expect(found.map(({ allow }) => allow.length)).toEqual(
      found.map(({ allow }) => allow.length).sort((a, b) => a - b),
    );
  });
});
