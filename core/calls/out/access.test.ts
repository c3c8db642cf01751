import fc from 'fast-check';
import { workedEstate } from '../../tests/worked';
import { compileEstate } from '../engine';
import { legCost, type TariffLine } from '../../records';
import { readEstate, type AccessNumber, type Estate } from '../../estate';
import { leftToday, numberShown, predictAccess, screened, type AccessPredicted } from '.';

const worked = workedEstate();
const ines = worked.people.find(({ id }) => id === 'ines')!;
const mobile = ines.endpoints.find(({ kind }) => kind === 'mobile')!.number!;
const own = ines.lines[0]!.numbers[0]!;
const { extension } = ines.lines[0]!;
const DAY = Date.parse('2026-11-24T18:00:00Z');
const NIGHT = Date.parse('2026-11-24T09:00:00Z');
const ACCESS: AccessNumber = { id: 'out', name: 'Out', number: '+12505550199' };
const THEIRS = '6045550199';

const call = (
  access: Partial<AccessNumber>,
  typed: readonly string[],
  caller: { readonly from?: string | null; readonly isVerified?: boolean; readonly atMs?: number } = {},
  more: Partial<Estate> = {},
): AccessPredicted => {
  const estate: Estate = { ...worked, ...more, accessNumbers: [{ ...ACCESS, ...access }] };
  return predictAccess(
    compileEstate(estate),
    estate.accessNumbers![0]!,
    { from: mobile, isVerified: false, atMs: DAY, ...caller },
    typed,
  );
};
const last = ({ says }: AccessPredicted) => says.at(-1);
const TONE = 'The number, then the hash key.';

test('a mobile that is known hears the tone, types a number, and it is called with the own number showing', () => {
  expect(call({}, [THEIRS])).toEqual({
    says: [TONE],
    calls: {
      person: 'ines',
      number: '+16045550199',
      shown: { number: own, isWithheld: false },
    },
    callsIn: null,
    tookPin: false,
    unheard: 0,
  });
});

test('an extension is called inside, as from the own one; one that there is not is a fault', () => {
  const colleague = worked.people.find(({ id, lines }) => id !== 'ines' && lines.length > 0)!.lines[0]!
    .extension;
  expect(call({}, [colleague])).toMatchObject({
    calls: null,
    callsIn: { from: extension, to: colleague },
    unheard: 0,
  });
  expect(call({}, [worked.groups[0]!.extension]).callsIn?.to).toBe(worked.groups[0]!.extension);
  expect(call({}, ['9999'])).toMatchObject({ calls: null, callsIn: null });
});

test('who is not known says who they are by extension and PIN; whether there is such an extension is not told', () => {
  const unknown = { from: '+17785550999' };
  const right = call({}, [extension, '480263', THEIRS], unknown);
  expect(right.says).toEqual(['Your extension, then the hash key.', 'Your PIN, then the hash key.', TONE]);
  expect([right.calls?.person, right.tookPin]).toEqual(['ines', true]);
  const nobody = call({}, ['9999', '480263'], unknown);
  expect(nobody.calls).toBeNull();
  expect(last(nobody)).toBe('This is not right. Your extension, then the hash key.');
  expect(call({}, ['9999', '1', '9999', '1', '9999', '1', THEIRS], unknown)).toMatchObject({
    calls: null,
    unheard: 1,
  });
});

test.each([
  ['always', mobile, ['480263', THEIRS], 'Your PIN, then the hash key.'],
  ['always', '+17785550999', [extension, '480263', THEIRS], 'Your extension, then the hash key.'],
  ['never', mobile, [THEIRS], TONE],
] as const)('with a PIN asked %s of %s', (pin, from, typed, first) => {
  const { says, calls } = call({ pin }, typed, { from });
  expect([says[0], calls?.person]).toEqual([first, 'ines']);
});

test('where no PIN is asked for, nobody who is not known gets in, nor where nobody is known', () => {
  for (const from of ['+17785550999', null])
    expect(call({ pin: 'never' }, [THEIRS], { from }).calls).toBeNull();
  expect(call({ pin: 'never', knows: false }, [THEIRS]).calls).toBeNull();
});

test('a number that is to be verified and is not makes nobody known', () => {
  expect(call({ onlyVerified: true }, [THEIRS], { isVerified: true }).calls?.person).toBe('ines');
  expect(call({ onlyVerified: true }, [THEIRS]).says[0]).toBe('Your extension, then the hash key.');
  // A phone inside is known by its account.
  expect(call({ onlyVerified: true }, [THEIRS], { from: extension }).calls?.person).toBe('ines');
});

test('a mobile that two people have makes neither of them known', () => {
  const people = worked.people.map((person) =>
    person.id === 'tomasz'
      ? {
          ...person,
          endpoints: [
            ...person.endpoints,
            { id: 'shared', label: 'Shared', kind: 'mobile' as const, number: mobile },
          ],
        }
      : person,
  );
  expect(call({}, [THEIRS], {}, { people }).says[0]).toBe('Your extension, then the hash key.');
});

test('outside its hours it is closed', () => {
  const [hours] = worked.schedules;
  const schedule = { id: hours!.id, inside: true };
  const says = (atMs: number) => call({ schedule }, [THEIRS], { atMs }).says[0];
  expect([says(DAY), says(NIGHT)]).toEqual([TONE, 'This number is closed now.']);
});

test('what cannot be called is said, asked again, and the third fault ends the call; the star begins anew', () => {
  const wrong = call({}, ['12', '19005550199', '9999']);
  expect(wrong.says).toEqual([
    TONE,
    `There is no such number. ${TONE}`,
    `Your permission does not allow this number. ${TONE}`,
    'There is no such number. Goodbye.',
  ]);
  expect(call({}, [`1234*${THEIRS}`]).calls?.number).toBe('+16045550199');
  expect(last(call({}, ['911']))).toContain('dial this on the phone itself');
  expect(last(call({}, ['9911']))).toContain('dial this on the phone itself');
});

test('what shows: the own number, that of the organisation, or what is set for the status', () => {
  const settings = { number: '+12505550100' };
  const shows = (
    presents: AccessNumber['presents'],
    showing: (typeof ines)['showing'],
    status = ines.status,
  ) => numberShown({ settings }, { ...ines, status, ...(showing ? { showing } : {}) }, presents);
  const plain = (number: string | null) => ({ number, isWithheld: false });
  expect(shows('own', undefined)).toEqual(plain(own));
  expect(shows('organisation', [{ shows: 'withheld' }])).toEqual(plain('+12505550100'));
  expect(shows('+12505550177', undefined)).toEqual(plain('+12505550177'));
  const byStatus = [{ status: 'away', shows: 'organisation' as const }, { shows: 'withheld' as const }];
  expect(shows('own', byStatus, 'away')).toEqual(plain('+12505550100'));
  expect(shows('own', byStatus, 'office')).toEqual({ number: own, isWithheld: true });
  const bare = { ...ines, lines: ines.lines.map((line) => ({ ...line, numbers: [] })) };
  expect(numberShown({ settings }, bare)).toEqual(plain('+12505550100'));
  expect(numberShown({}, bare)).toEqual(plain(null));
});

test('a carrier lets the numbers show that begin as it has them', () => {
  const screening = { allows: ['+1250555'], otherwise: 'refuses' as const };
  expect([
    screened(screening, '+12505550101'),
    screened(screening, '+12515550101'),
    screened(undefined, '+1'),
  ]).toEqual(['shows', 'refuses', 'shows']);
});

test('the longest call for what is left costs no more than that, and one interval more would', () => {
  const line = fc.record({
    perMinute: fc.integer({ min: 0, max: 200_000 }),
    perCall: fc.integer({ min: 0, max: 100_000 }),
    firstS: fc.constantFrom(1, 6, 30, 60),
    nextS: fc.constantFrom(1, 6, 30, 60),
  });
  fc.assert(
    fc.property(
      line,
      fc.integer({ min: 1, max: 5_000_000 }),
      fc.integer({ min: 0, max: 5_000_000 }),
      (of, most, money) => {
        const tariff: TariffLine = { prefix: '+1', name: '', from: null, trunk: null, ...of };
        const { mostMs } = leftToday({ money: most }, { ms: 0, money }, tariff);
        const left = Math.max(0, most - money);
        if (mostMs === null) return of.perMinute === 0 && of.perCall <= left;
        const longer = mostMs === 0 ? 0 : mostMs + 1000 * of.nextS;
        return (mostMs === 0 || legCost(tariff, mostMs).cost <= left) && legCost(tariff, longer).cost > left;
      },
    ),
    { numRuns: 2000 },
  );
});

test('of minutes and money the one that ends first counts; without a price minutes alone', () => {
  const line: TariffLine = {
    prefix: '+1',
    name: '',
    perMinute: 60_000,
    perCall: 0,
    firstS: 1,
    nextS: 1,
    from: null,
    trunk: null,
  };
  const left = (minutes: number | undefined, money: number | undefined, of: TariffLine | null = line) =>
    leftToday(
      { ...(minutes === undefined ? {} : { minutes }), ...(money === undefined ? {} : { money }) },
      { ms: 60_000, money: 30_000 },
      of,
    );
  expect(left(3, 90_000)).toEqual({ mostMs: 60_000, by: 'money' });
  expect(left(1.5, 90_000)).toEqual({ mostMs: 30_000, by: 'minutes' });
  expect(left(1, undefined)).toEqual({ mostMs: 0, by: 'minutes' });
  expect(left(undefined, 10, null)).toEqual({ mostMs: null, by: null });
  expect(leftToday(undefined, { ms: 1e9, money: 1e9 }, line)).toEqual({ mostMs: null, by: null });
});

test('an access number in a file needs no name; a number that is somebody else’s already is a fault', () => {
  const { name: _name, ...bare } = ACCESS;
  const read = readEstate({ ...worked, accessNumbers: [bare] });
  expect(read.ok && read.estate.accessNumbers?.[0]?.name).toBe(ACCESS.number);
  const faults = (access: object) => {
    const result = readEstate({ ...worked, accessNumbers: [{ ...ACCESS, ...access }] });
    return result.ok ? [] : result.faults.map(({ path }) => path);
  };
  expect(faults({ number: own })).toEqual(['accessNumbers[0].number']);
  expect(faults({ schedule: { id: 'no-such', inside: true } })).toEqual(['accessNumbers[0].schedule.id']);
  expect(faults({ pin: 'sometimes' })).toEqual(['accessNumbers[0].pin']);
  expect(faults({ presents: 'theirs' })).toEqual(['accessNumbers[0].presents']);
});
