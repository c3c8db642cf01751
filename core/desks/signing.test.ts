import type { Desk, Person, Schedule } from '../estate';
import { scheduleClock } from '../calls/time';
import {
  deskPhonesAway,
  dueOff,
  isRostered,
  nextDaily,
  SIGN_ON_REFUSALS,
  shiftEnd,
  signOnRefusal,
  type SigningOn,
} from '.';

const ZONE = 'America/New_York';
const hours = (id: string, from: string, to: string, days = ['mon', 'tue', 'wed', 'thu', 'fri']): Schedule =>
  ({ id, name: id, timeZone: ZONE, weekly: [{ days, from, to }] }) as Schedule;
const SCHEDULES = [
  hours('early', '06:00', '14:00'),
  hours('late', '14:00', '22:00'),
  hours('evening', '18:00', '20:00'),
  hours('short', '16:30', '17:00'),
  hours('always', '00:00', '00:00', ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun']),
];
const clocks = new Map(SCHEDULES.map((each) => [each.id, scheduleClock(each)]));
const clockOf = (id: string) => clocks.get(id);
const at = (local: string) => Date.parse(`${local}-05:00`);

describe('why somebody cannot sign on', () => {
  const desk: Desk = { id: 'hall-1', name: 'Hall desk 1', device: 'd1' };
  const person = {
    id: 'ada',
    status: 'on',
    template: 'crew',
    endpoints: [{ id: 'ada-desk', label: 'Shared desk', kind: 'hot-desk' }],
  } as unknown as Person;
  const fine: SigningOn = {
    desk,
    person,
    credential: 'right',
    hasLeft: false,
    occupant: null,
    confirmed: false,
    inCall: false,
  };
  const bad: Record<(typeof SIGN_ON_REFUSALS)[number], Partial<SigningOn>> = {
    'no-such-desk': { desk: undefined },
    'no-such-person': { person: undefined },
    locked: { credential: 'locked' },
    'wrong-credential': { credential: 'wrong' },
    'not-allowed': {
      desk: { ...desk, allowed: { people: ['ben'], templates: ['deck'], statuses: ['off'] } },
    },
    left: { hasLeft: true },
    'no-hot-desk': { person: { ...person, endpoints: [] } },
    taken: { occupant: 'ben' },
    'in-call': { inCall: true },
  };
  test.each(SIGN_ON_REFUSALS)('%s is told, and before all that come after it', (why) => {
    expect(signOnRefusal({ ...fine, ...bad[why] })).toBe(why);
    const later = SIGN_ON_REFUSALS.slice(SIGN_ON_REFUSALS.indexOf(why));
    // All that come after are wrong too, but for what this one needs to be told itself.
    const all = [...later].reverse().reduce((sum, each) => ({ ...sum, ...bad[each] }), fine);
    expect(signOnRefusal({ ...all, ...bad[why] })).toBe(why);
  });
  test('a taken desk is taken over, or asks first, as it is set', () => {
    const taken = (how: Desk['taken'], more: Partial<SigningOn> = {}) =>
      signOnRefusal({ ...fine, occupant: 'ben', desk: { ...desk, ...(how ? { taken: how } : {}) }, ...more });
    expect([taken(undefined), taken('refuse'), taken('take-over'), taken('ask')]).toEqual([
      'taken',
      'taken',
      null,
      'taken',
    ]);
    expect([
      taken('ask', { confirmed: true }),
      taken('refuse', { confirmed: true }),
      taken('refuse', { occupant: 'ada' }),
    ]).toEqual([null, 'taken', null]);
    expect(taken('take-over', { inCall: true })).toBe('in-call');
  });
  test('any list that names them is enough; empty lists allow nobody', () => {
    const allows = (allowed: Desk['allowed']) =>
      signOnRefusal({ ...fine, desk: { ...desk, ...(allowed ? { allowed } : {}) } }) === null;
    expect([
      allows(undefined),
      allows({}),
      allows({ people: [] }),
      allows({ people: ['ada'], templates: [] }),
      allows({ templates: ['crew'] }),
      allows({ statuses: ['on'] }),
      allows({ statuses: ['off'], people: ['ben'] }),
    ]).toEqual([true, false, false, true, true, true, false]);
  });
});

describe('the end of the shift', () => {
  const end = (schedules: readonly string[], onAt: string) =>
    shiftEnd(
      { roster: schedules.map((schedule) => ({ schedule, site: 'hall' })) },
      'hall',
      at(onAt),
      clockOf,
    );
  // 2026-11-24 is a Tuesday.
  test.each<[string, readonly string[], string, string | null]>([
    ['inside a span: its end', ['early'], '2026-11-24T07:00', '2026-11-24T14:00'],
    ['spans that touch are one', ['early', 'late'], '2026-11-24T07:00', '2026-11-24T22:00'],
    ['spans that overlap are one', ['late', 'evening'], '2026-11-24T19:00', '2026-11-24T22:00'],
    ['two hours before: it belongs to it', ['early'], '2026-11-24T04:00', '2026-11-24T14:00'],
    ['earlier: to none', ['early'], '2026-11-24T03:59', null],
    [
      'the one it lies in beats the one to come',
      ['short', 'evening'],
      '2026-11-24T16:45',
      '2026-11-24T17:00',
    ],
    ['of two to come the last to end', ['short', 'evening'], '2026-11-24T16:00', '2026-11-24T20:00'],
    ['at the end itself it is over', ['early'], '2026-11-24T14:00', null],
    ['one that never ends has no end', ['always'], '2026-11-24T14:00', null],
    ['no roster, no end', [], '2026-11-24T14:00', null],
  ])('%s', (_name, schedules, onAt, expected) => {
    expect(end(schedules, onAt)).toBe(expected === null ? null : at(expected));
  });
  test('a roster of another site does not count', () => {
    const roster = [{ schedule: 'early', site: 'pier' }];
    expect(shiftEnd({ roster }, 'hall', at('2026-11-24T07:00'), clockOf)).toBeNull();
  });
});

test('every day at a time: the end of the gap where it is skipped, the first where it comes twice', () => {
  const next = (time: string, after: string) =>
    new Date(nextDaily(time, ZONE, Date.parse(after))).toISOString();
  expect(next('20:00', '2026-11-24T20:00:00-05:00')).toBe('2026-11-26T01:00:00.000Z');
  expect(next('20:00', '2026-11-24T19:59:00-05:00')).toBe('2026-11-25T01:00:00.000Z');
  // Clocks go from 02:00 to 03:00 on 8 March 2026, and from 02:00 back to 01:00 on 1 November.
  expect(next('02:30', '2026-03-08T00:00:00-05:00')).toBe('2026-03-08T07:00:00.000Z');
  expect(next('01:30', '2026-11-01T00:00:00-04:00')).toBe('2026-11-01T05:30:00.000Z');
  expect(next('01:30', '2026-11-01T05:45:00Z')).toBe('2026-11-02T06:30:00.000Z');
});

test('the phone of whoever is signed on nowhere is away; by the roster who is likelier there than not', () => {
  const person = (id: string, ...kinds: ('hot-desk' | 'desk')[]) =>
    ({
      id,
      endpoints: kinds.map((kind, n) => ({ id: `${id}-${n}`, label: kind, kind })),
    }) as unknown as Person;
  const people = [
    person('ada', 'desk', 'hot-desk'),
    person('ben', 'hot-desk', 'hot-desk'),
    person('cleo', 'desk'),
  ];
  expect(deskPhonesAway(people, ({ id }) => id === 'ben')).toEqual(['ada-1', 'ben-1']);
  expect(deskPhonesAway(people, () => false)).toEqual(['ada-1', 'ben-0', 'ben-1']);
  const rostered = (share: number | undefined, when: string) =>
    isRostered(
      { roster: [{ schedule: 'early', site: 'hall', ...(share === undefined ? {} : { share }) }] },
      { schedules: SCHEDULES },
      at(when),
    );
  expect([
    rostered(undefined, '2026-11-24T07:00'),
    rostered(0.51, '2026-11-24T07:00'),
    rostered(0.5, '2026-11-24T07:00'),
    rostered(undefined, '2026-11-24T15:00'),
  ]).toEqual([true, true, false, false]);
});

test('whichever is first signs off: shift, idle or daily', () => {
  const on = { sinceMs: at('2026-11-24T07:00'), usedMs: at('2026-11-24T12:00') };
  const due = (signOff: Desk['signOff'], roster = true) =>
    dueOff(signOff ? { signOff } : {}, on, {
      person: { roster: roster ? [{ schedule: 'early', site: 'hall' }] : [] },
      site: 'hall',
      timeZone: ZONE,
      graceS: 900,
      clockOf,
    });
  expect(due(undefined)).toEqual({ atMs: at('2026-11-24T14:15'), why: 'shift-end' });
  expect(due({ afterIdleS: 3600 })).toEqual({ atMs: at('2026-11-24T13:00'), why: 'idle' });
  expect(due({ afterIdleS: 36_000, dailyAt: '13:30' })).toEqual({
    atMs: at('2026-11-24T13:30'),
    why: 'daily',
  });
  expect(due({ atShiftEnd: false })).toBeNull();
  expect(due(undefined, false)).toBeNull();
});
