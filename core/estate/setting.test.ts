import fc from 'fast-check';
import {
  insideOf,
  organisationSetting,
  readSetting,
  SETTING_LISTS,
  settingOf,
  innerOf,
  type SettingStep,
} from '.';

const step = fc.oneof(
  fc.constantFrom('plan', 'ending', 'forwardAll'),
  fc.tuple(
    fc.constantFrom('rules', 'stages', 'ring'),
    fc.oneof(fc.string({ minLength: 1, maxLength: 12 }), fc.nat(20)),
  ),
);
const parts = (steps: readonly SettingStep[]) =>
  steps.map((each) =>
    typeof each === 'string' ? { field: each, at: null } : { field: each[0], at: String(each[1]) },
  );

test('a setting is read back as it was made, whatever ids are', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...SETTING_LISTS),
      fc.oneof(
        fc.string({ minLength: 1, maxLength: 12 }),
        fc.constantFrom('a]b', '[', '%5D', 'a].plan', '50%'),
      ),
      fc.array(step, { maxLength: 5 }),
      (list, id, steps) => {
        const setting = settingOf(list, id, ...steps);
        expect(readSetting(setting)).toEqual({ of: { list, id }, steps: parts(steps) });
        // However it is put together it is the same: it is a key in tables.
        expect(steps.reduce((at, each) => innerOf(at, each), settingOf(list, id))).toBe(setting);
      },
    ),
  );
});

test('two objects have no setting in common', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.string({ minLength: 1, maxLength: 6 }), { minLength: 2, maxLength: 2 }),
      fc.array(step, { maxLength: 3 }),
      ([a, b], steps) =>
        expect(settingOf('people', a!, ...steps)).not.toBe(settingOf('people', b!, ...steps)),
    ),
  );
});

test('usual ids stand in it as they are; what is no setting is read as none', () => {
  expect(settingOf('people', 'ines', 'plan', ['rules', 'r-night'], ['stages', 0])).toBe(
    'people[ines].plan.rules[r-night].stages[0]',
  );
  expect(insideOf(settingOf('people', 'ines', 'plan', 'otherwise'))).toBe('plan.otherwise');
  expect(readSetting(organisationSetting('settings', 'number'))).toEqual({
    of: null,
    steps: [
      { field: 'settings', at: null },
      { field: 'number', at: null },
    ],
  });
  for (const text of ['', '.', 'people[', 'people[a]]', 'people[a] plan', '[a]', 'people[a]..plan'])
    expect([text, readSetting(text)]).toEqual([text, null]);
});
