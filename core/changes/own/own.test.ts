import fc from 'fast-check';
import { faultsOf, referenceFaults, type Person } from '../../estate';
import { personOf, ringing, smallEstate } from '../../tests/small';
import { judgeWish, wishSchema, type Wish } from './own';
import { limitsSchema, USUAL_LIMITS, type OwnLimits } from './limits';
import { sayWish } from './words';

const NOW = Date.parse('2026-11-25T18:00:00Z');
const ada = personOf('ada', 1, {
  rules: [
    {
      id: 'day',
      name: 'By day',
      when: {},
      ...ringing([{ endpoint: 'ada-desk' }, { endpoint: 'ada-mobile' }]),
      stages: [
        { ring: [{ endpoint: 'ada-desk' }], forMs: 20_000 },
        { ring: [{ endpoint: 'ada-mobile' }], forMs: 15_000 },
      ],
    },
  ],
});
const ben = personOf('ben', 2, {});
const estate = smallEstate([ada, ben]);
const NONE: OwnLimits = {
  status: false,
  twinning: false,
  numbers: [],
  ringMs: { least: 1000, most: 1000 },
  sequence: false,
  hours: false,
  coverMs: 0,
};
const judge = (wish: Wish, limits = USUAL_LIMITS) => judgeWish(estate, ada, wish, limits, NOW);
const after = (wish: Wish, limits = USUAL_LIMITS): Person => {
  const verdict = judge(wish, limits);
  if (verdict.may === 'not') throw new Error(verdict.faults[0]!.message);
  return verdict.after;
};
const stages = (person: Person) => person.plan.rules[0]!.stages;

test('whether a number is a colleague’s private one is nobody’s business', () => {
  const theirs = judge({ kind: 'number', endpoint: 'ada-mobile', number: '+12505550122' });
  expect(theirs.may).toBe(judge({ kind: 'number', endpoint: 'ada-mobile', number: '+12505550155' }).may);
});

const WISHES: readonly Wish[] = [
  { kind: 'status', status: 'leave' },
  { kind: 'twinning', endpoint: 'ada-mobile', on: false },
  { kind: 'number', endpoint: 'ada-mobile', number: '250 555 0150' },
  { kind: 'ring-time', at: 'day', stage: 0, forMs: 25_000 },
  { kind: 'sequence', at: 'day', order: [1, 0] },
  { kind: 'hours', endpoint: 'ada-mobile', schedule: 'office' },
  { kind: 'cover', person: 'ben', until: '2026-11-26T18:00:00Z' },
];

test.each(WISHES)(
  '$kind is done at once within the limits, and asked for beyond them, with the same result',
  (wish) => {
    const wide = { ...USUAL_LIMITS, hours: true };
    expect(judge(wish, wide).may).toBe('now');
    const beyond = judge(wish, NONE);
    expect(beyond).toMatchObject({ may: 'ask', why: expect.stringMatching(/\.$/) });
    expect(after(wish, NONE)).toEqual(after(wish, wide));
    expect(after(wish, wide)).not.toEqual(ada);
    expect(sayWish(estate, ada, wish)).toMatch(/\w{3}/);
  },
);

test('each wish does what it says', () => {
  expect(after(WISHES[0]!).status).toBe('leave');
  expect(stages(after(WISHES[1]!))[1]).toMatchObject({ ring: [{ endpoint: 'ada-mobile', enabled: false }] });
  expect(after(WISHES[2]!).endpoints[1]!.number).toBe('+12505550150');
  expect(stages(after(WISHES[3]!))[0]).toMatchObject({ forMs: 25_000 });
  expect(stages(after(WISHES[4]!))).toEqual([...stages(ada)].reverse());
  expect(stages(after(WISHES[5]!))[1]).toMatchObject({
    ring: [{ schedule: { id: 'office', inside: true } }],
  });
  expect(after(WISHES[6]!).lines[0]).toMatchObject({ forwardAll: { kind: 'person', person: 'ben' } });
});

test.each<[string, Wish, string]>([
  ['a status that is none', { kind: 'status', status: 'asleep' }, 'status'],
  ['a phone of somebody else', { kind: 'twinning', endpoint: 'ben-mobile', on: false }, 'endpoint'],
  ['a number for a desk phone', { kind: 'number', endpoint: 'ada-desk', number: '2505550150' }, 'endpoint'],
  ['a number that is none', { kind: 'number', endpoint: 'ada-mobile', number: '12' }, 'number'],
  [
    'a number of the organisation',
    { kind: 'number', endpoint: 'ada-mobile', number: ben.lines[0]!.numbers[0]! },
    'number',
  ],
  [
    'a number that may not be dialled',
    { kind: 'number', endpoint: 'ada-mobile', number: '+4930123456' },
    'number',
  ],
  ['a stage that is not there', { kind: 'ring-time', at: 'day', stage: 7, forMs: 10_000 }, 'stage'],
  ['an order that leaves one out', { kind: 'sequence', at: 'day', order: [0, 0] }, 'order'],
  ['hours that are none', { kind: 'hours', endpoint: 'ada-mobile', schedule: 'never' }, 'schedule'],
  ['cover by oneself', { kind: 'cover', person: 'ada', until: '2026-11-26T18:00:00Z' }, 'person'],
  ['cover that is over', { kind: 'cover', person: 'ben', until: '2026-11-24T18:00:00Z' }, 'until'],
])('%s is not possible, and the field is named', (_, wish, path) => {
  expect(judge(wish)).toMatchObject({ may: 'not', faults: [{ path }] });
});

test('ring time and cover are allowed up to their limits and no further', () => {
  const ring = (forMs: number) => judge({ kind: 'ring-time', at: 'day', stage: 0, forMs }).may;
  expect([9999, 10_000, 40_000, 40_001].map(ring)).toEqual(['ask', 'now', 'now', 'ask']);
  const cover = (ms: number) =>
    judge({ kind: 'cover', person: 'ben', until: new Date(NOW + ms).toISOString() }).may;
  expect([USUAL_LIMITS.coverMs, USUAL_LIMITS.coverMs + 1].map(cover)).toEqual(['now', 'ask']);
});

test('whatever is wished, nobody else is touched, and no reference breaks', () => {
  const wish = fc.constantFrom(...WISHES);
  fc.assert(
    fc.property(fc.array(wish, { maxLength: 6 }), (wishes) => {
      let person = ada;
      for (const each of wishes) {
        const verdict = judgeWish({ ...estate, people: [person, ben] }, person, each, NONE, NOW);
        if (verdict.may !== 'not') person = verdict.after;
      }
      expect(person.id).toBe('ada');
      expect(person.permission).toBe(ada.permission);
      expect(referenceFaults({ ...estate, people: [person, ben] })).toEqual(referenceFaults(estate));
    }),
  );
});

test('a wish and limits of a wrong form are refused beside the field', () => {
  expect(faultsOf(wishSchema, { kind: 'fly' })[0]!.path).toBe('kind');
  expect(faultsOf(wishSchema, { kind: 'ring-time', at: 'day', stage: 0 })[0]!.path).toBe('forMs');
  expect(faultsOf(wishSchema, WISHES[6])).toEqual([]);
  expect(faultsOf(limitsSchema, USUAL_LIMITS)).toEqual([]);
  expect(faultsOf(limitsSchema, { ...USUAL_LIMITS, ringMs: { least: 9, most: 3 } })[0]!.path).toBe('ringMs');
});
