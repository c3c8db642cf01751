import { workedEstate } from '../../tests/worked';
import type { Confirm, When } from '../../estate';
import { compileEstate, endingPhrase, legEndText, outcomeText, type Outcome } from '../engine';
import { describeTreatment, describeWhen, plain } from './describe';
import { tryCall } from './strip';

const index = compileEstate(workedEstate());
const amara = index.people.get('amara')!;
const at = '2026-11-24T10:00:00-07:00';

test.each<[When, string]>([
  [{}, 'Always'],
  [{ status: ['on-leave'] }, 'On leave'],
  [{ status: [] }, 'Never'],
  [{ schedule: { id: 'office', inside: true } }, 'Inside Office hours'],
  [
    { schedule: { id: 'office', inside: false }, caller: { class: 'external' } },
    'Outside Office hours, from outside',
  ],
  [{ caller: { class: 'anonymous' } }, 'With the number withheld'],
  [{ caller: { class: 'listed', numbers: ['+1604', '4104', '4105'] } }, 'From +1604, 4104 or 4105'],
  [{ caller: { class: 'listed', numbers: [] } }, 'From listed callers'],
  [{ arrival: ['group', 'forwarded'] }, 'By a group or forwarded on'],
  [{ arrival: [] }, 'Never'],
  [{ line: ['l-4106'] }, 'On line 4106'],
])('a rule that holds when %j: %s', (when, text) => {
  expect(describeWhen(index, when, amara)).toBe(text);
});

test('a treatment is said in the order in which it goes', () => {
  const say = (id: string, rule?: string) => {
    const { plan } = index.people.get(id)!;
    return plain(describeTreatment(index, plan.rules.find((each) => each.id === rule) ?? plan.otherwise, id));
  };
  expect(say('ruth')).toBe(
    "Rings the bookings desk and the mobile after 5 s together for 20 s, then Ines's dock office phone for 15 s. Nobody answers: voicemail for Ruth.",
  );
  expect(say('jonah', 'r-sea')).toMatch(/^A greeting of 9 s offers key 1, key 0, then /);
  expect(say('amara', 'r-weekend')).toMatch(/^Asks the caller for a code, then /);
  expect(say('ines', 'r-night')).toBe("Rings nothing: on to Tomasz's own plan at once.");
});

test('what whoever answers must do first is said with the phone', () => {
  const ring = (confirm: Confirm) =>
    plain(
      describeTreatment(
        index,
        {
          stages: [{ ring: [{ endpoint: 'ines-mobile', confirm }], forMs: 9000 }],
          ending: { kind: 'mailbox' },
        },
        'ines',
      ),
    );
  expect(ring('none')).toBe('Rings the mobile for 9 s. Nobody answers: voicemail for Ines.');
  expect(ring('key')).toContain('the mobile (press 1 to accept) for 9 s');
  expect(ring('key-name')).toContain('(says who calls, press 1 to accept)');
  expect(ring('pin')).toContain('(PIN to accept)');
});

test('every ending and every outcome has its words', () => {
  const phrase = (ending: Parameters<typeof endingPhrase>[1]) => endingPhrase(index, ending, 'ines');
  expect(phrase({ kind: 'queue', maxMs: 30_000, then: { kind: 'group', group: 'bookings' } })).toBe(
    'the caller waits up to 30 s, then on to the group Bookings',
  );
  expect(phrase({ kind: 'endpoint', endpoint: 'ines-mobile' })).toBe('on to the mobile');
  expect(phrase({ kind: 'endpoint', endpoint: 'ruth-desk' })).toBe("on to Ruth's bookings desk");
  expect(phrase({ kind: 'hang-up', message: '' })).toBe('the call is ended');
  const outcomes: readonly [Outcome, string][] = [
    [
      { kind: 'answered', atMs: 0, endpoint: 'ines-desk', person: 'ines' },
      "Answered at Ines's dock office phone at once.",
    ],
    [{ kind: 'abandoned', atMs: 1500 }, 'The caller hung up after 1.5 s.'],
    [{ kind: 'loop', atMs: 0, person: 'ines' }, 'Lost: the call went round to Ines Okafor again at once.'],
    [{ kind: 'failed', atMs: 0, reason: 'no-mailbox' }, 'Lost: the mailbox is switched off at once.'],
    [{ kind: 'unanswered', atMs: 60_000 }, 'Lost: nobody answered after 60 s, and nothing comes after.'],
    [{ kind: 'hung-up', atMs: 2000, message: 'closed' }, 'Ended with "closed" after 2 s.'],
  ];
  for (const [outcome, text] of outcomes) expect(outcomeText(index, outcome)).toBe(text);
  expect(legEndText('before-guard')).toBe('dropped by the answer guard');
});

describe('where times are safe, on the strip', () => {
  const lanes = (to: string, world = {}) =>
    tryCall(index, { from: '+16045550199', to, at, world }).strip.lanes;
  test('a mobile with a carrier’s voicemail has both windows, counted from its dialling', () => {
    const mobile = lanes('4101').find(({ endpoint }) => endpoint === 'ines-mobile')!;
    expect(mobile.windows).toEqual([
      { kind: 'guard', fromMs: 1801, toMs: 6200 },
      { kind: 'give-up', fromMs: 15_200, toMs: 25_199 },
    ]);
  });
  test('none for a desk, for a mobile that may not be dialled, or one that is accepted by key', () => {
    const windows = (to: string, endpoint: string) =>
      lanes(to).find((lane) => lane.endpoint === endpoint)?.windows;
    expect(windows('4101', 'ines-desk')).toEqual([]);
    expect(windows('4103', 'ruth-mobile')).toEqual([]);
    expect(windows('4102', 'tomasz-mobile')).toEqual([]);
  });
});
