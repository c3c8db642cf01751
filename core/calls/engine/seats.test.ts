import { readEstate, type Estate, type Group, type Seat } from '../../estate';
import { workedEstate } from '../../tests/worked';
import { callFaults, strangersInWorld } from './call-schema';
import { compileEstate } from './compile';
import { runCall } from './run';
import type { Trace, World } from './types';

const seat = (id: string, more: Partial<Seat> = {}): Seat => ({
  id,
  name: `Seat ${id}`,
  extension: `45${id.charCodeAt(0)}`,
  ...more,
});
const SIP = (id: string) => ({ sip: `sip:${id}@seats.example` });
const on = (id: string, more: object = {}) => ({ state: 'ready' as const, at: SIP(id), ...more });

function estateWith(group: Partial<Group>, seats: readonly Seat[]): Estate {
  const worked = workedEstate();
  return {
    ...worked,
    seats,
    groups: [
      ...worked.groups,
      {
        id: 'dispatch',
        name: 'Dispatch',
        extension: '4290',
        mode: 'linear',
        members: seats.map(({ id }) => ({ seat: id })),
        ringMs: 15_000,
        permission: 'coast',
        ending: { kind: 'hang-up', message: 'nobody' },
        ...group,
      },
    ],
  };
}

function call(group: Partial<Group>, seats: readonly Seat[], world: World, to = '4290'): Trace {
  const estate = estateWith(group, seats);
  const index = compileEstate(estate);
  const given = { from: '+16045550199', to, at: '2026-11-24T10:00:00-07:00', world };
  expect(callFaults(given)).toEqual([]);
  return runCall(index, given);
}
const rung = ({ legs }: Trace) =>
  legs.map(({ endpoint, dialledMs, alertMs, endMs, end }) =>
    [endpoint.replace(/^sip:|@.*$/g, ''), dialledMs, alertMs, endMs, end].join(' '),
  );

describe('whose turn it is by rank', () => {
  const seats = [seat('a'), seat('b', { ringMs: 10_000 }), seat('c', { ringMs: 5000 })];
  const members: Group['members'] = [
    { person: 'tomasz' },
    { seat: 'a', rank: 2 },
    { seat: 'b' },
    { seat: 'c', rank: 1 },
  ];
  test('the lowest rank comes first, of equals the longest idle, and people last; each rings for its own time', () => {
    const world = {
      seats: { a: on('a', { idleMs: 9000 }), b: on('b', { idleMs: 100 }), c: on('c', { idleMs: 500 }) },
    };
    const trace = call({ mode: 'by-rank', members }, seats, world);
    expect(rung(trace).slice(0, 3)).toEqual([
      'c 0 500 5000 no-answer',
      'b 5000 5500 15000 no-answer',
      'a 15000 15500 35000 no-answer',
    ]);
    expect(trace.legs.slice(3).every(({ dialledMs }) => dialledMs >= 35_000)).toBe(true);
    expect(trace.legs.length).toBeGreaterThan(3);
  });
  test('of equals that have been idle as long, as they are listed', () => {
    const world = { seats: { b: on('b'), c: on('c') } };
    expect(rung(call({ mode: 'by-rank', members }, seats, world)).slice(0, 2)).toEqual([
      'b 0 500 10000 no-answer',
      'c 10000 10500 15000 no-answer',
    ]);
  });
});

describe('the other orders', () => {
  const seats = [seat('a', { ringMs: 1000 }), seat('b', { ringMs: 1000 })];
  const all = { a: on('a', { idleMs: 5 }), b: on('b', { idleMs: 7 }) };
  test('take seats as members, and the time is the group’s', () => {
    expect(rung(call({ mode: 'linear' }, seats, { seats: all }))).toEqual([
      'a 0 500 15000 no-answer',
      'b 15000 15500 30000 no-answer',
    ]);
    expect(rung(call({ mode: 'longest-idle' }, seats, { seats: all }))[0]).toMatch(/^b 0/);
    expect(rung(call({ mode: 'circular' }, seats, { seats: all, groupLast: { dispatch: 0 } }))[0]).toMatch(
      /^b 0/,
    );
    expect(rung(call({ mode: 'simultaneous' }, seats, { seats: all }))).toEqual([
      'a 0 500 15000 no-answer',
      'b 0 500 15000 no-answer',
    ]);
  });
});

describe('what a seat contributes', () => {
  const one = [seat('a')];
  const mobile = '+17785550188';
  test('a number asks for the key, and its carrier’s voicemail does not press it', () => {
    const world = { seats: { a: { state: 'ready' as const, at: { number: mobile } } } };
    const answered = call({}, one, { ...world, endpoints: { [mobile]: { answerAfterMs: 2000 } } });
    expect(answered.outcome).toEqual({ kind: 'answered', atMs: 10_200, endpoint: mobile });
    const voicemail = call({ ringMs: 60_000 }, one, world);
    expect(voicemail.legs[0]?.end).toBe('not-confirmed');
  });
  test('a phone of the estate that registers asks for nothing, a mobile of the estate does', () => {
    const at = (endpoint: string) => ({
      seats: { a: { state: 'ready' as const, at: { endpoint } } },
      endpoints: { [endpoint]: { answerAfterMs: 0 } },
    });
    expect(call({}, one, at('tomasz-app')).outcome).toMatchObject({ atMs: 1200, person: 'tomasz' });
    expect(call({}, one, at('tomasz-mobile')).outcome).toMatchObject({ atMs: 8200, person: 'tomasz' });
  });
  test('it is dialled with the permission of whoever is signed on, else of the phone’s owner, else of the group', () => {
    const none = { id: 'none', name: 'None', allow: [] };
    const estate = estateWith({ permission: 'none' }, one);
    const index = compileEstate({
      ...estate,
      permissions: [...estate.permissions, none],
      people: estate.people.map((person) =>
        person.id === 'ines' ? { ...person, permission: 'none' } : person,
      ),
    });
    const end = (now: object) =>
      runCall(index, {
        from: null,
        to: '4290',
        at: '2026-11-24T10:00:00-07:00',
        world: { seats: { a: { state: 'ready', ...now } } },
      }).legs[0]?.end;
    expect(end({ at: { number: mobile } })).toBe('not-permitted');
    expect(end({ at: { number: mobile }, person: 'tomasz' })).toBe('no-answer');
    expect(end({ at: { endpoint: 'tomasz-mobile' } })).toBe('no-answer');
    expect(end({ at: { endpoint: 'tomasz-mobile' }, person: 'ines' })).toBe('not-permitted');
  });
  test.each([
    ['nobody signed on', {}],
    ['paused', { a: { ...on('a'), state: 'paused' as const } }],
    ['wrap-up', { a: { ...on('a'), state: 'wrap-up' as const } }],
    ['as many calls as it takes', { a: on('a', { calls: 1 }) }],
    ['a phone that there is not', { a: { state: 'ready' as const, at: { endpoint: 'nowhere' } } }],
  ])('nothing: %s', (_name, seats) => {
    const { legs, outcome, events } = call({}, one, { seats });
    expect(legs).toEqual([]);
    expect(outcome).toMatchObject({ kind: 'hung-up', atMs: 0 });
    expect(events.find(({ kind }) => kind === 'skipped')?.text).toMatch(/^Seat a is left out of the group: /);
  });
  test('one that takes two calls takes a second', () => {
    const { legs } = call({}, [seat('a', { callsAtOnce: 2 })], { seats: { a: on('a', { calls: 1 }) } });
    expect(legs).toHaveLength(1);
  });
  test('its extension is nobody’s number', () => {
    expect(call({}, one, {}, one[0]!.extension).outcome).toEqual({
      kind: 'failed',
      atMs: 0,
      reason: 'no-such-number',
    });
  });
});

describe('a seat that nobody needs to sit at', () => {
  test('passes its call to a number, which asks for a key unless it is told not to', () => {
    const to = { passTo: { number: '+17785550188' } };
    const world = { endpoints: { '+17785550188': { answerAfterMs: 0 } } };
    expect(call({}, [seat('a', { unattended: to })], world).outcome.atMs).toBe(8200);
    expect(call({}, [seat('a', { unattended: { ...to, confirm: 'none' } })], world).outcome.atMs).toBe(5200);
    const sip = { unattended: { passTo: { sip: 'sip:desk@partner.example' } } };
    const away = { endpoints: { 'sip:desk@partner.example': { answerAfterMs: 0 } } };
    expect(call({}, [seat('a', sip)], away).outcome.atMs).toBe(500);
  });
  test('plays its recording as soon as it is dialled, and whatever rang before it ends', () => {
    const playing = seat('a', { unattended: { play: 'closed' } });
    const other = seat('b');
    const seats = { b: on('b') };
    const first = call({ mode: 'simultaneous' }, [playing, other], { seats });
    expect(first.outcome).toEqual({ kind: 'played', atMs: 0, seat: 'a' });
    expect(rung(first)).toEqual(['a 0  0 connected']);
    const second = call({ mode: 'simultaneous', members: [{ seat: 'b' }, { seat: 'a' }] }, [playing, other], {
      seats,
    });
    expect(rung(second)).toEqual(['b 0  0 answered-elsewhere', 'a 0  0 connected']);
  });
  test('whoever is signed on to it comes before that, and with all its calls taken it does nothing', () => {
    const playing = seat('a', { unattended: { play: 'closed' } });
    expect(rung(call({}, [playing], { seats: { a: on('a') } }))).toEqual(['a 0 500 15000 no-answer']);
    expect(call({}, [playing], { seats: { a: { calls: 1 } } }).outcome.kind).toBe('hung-up');
  });
});

test('an estate says what is wrong with its seats, and a call with its world', () => {
  const faults = (seats: readonly unknown[], members: readonly unknown[] = []) => {
    const read = readEstate({ ...estateWith({ members: members as Group['members'] }, []), seats });
    return read.ok ? [] : read.faults.map(({ path, message }) => `${path}: ${message}`);
  };
  expect(faults([seat('a')], [{ seat: 'a', rank: 9 }])).toEqual([]);
  expect(faults([{ ...seat('a'), extension: '4101' }])).toEqual([
    'seats[0].extension: 4101 belongs to Ines Okafor already',
  ]);
  expect(faults([seat('a'), { ...seat('b'), id: 'a' }])).toEqual([
    'seats[1].id: there is a seat "a" already',
  ]);
  expect(faults([], [{ seat: 'gone' }])).toEqual(['groups[2].members[0].seat: there is no seat "gone"']);
  expect(faults([seat('a')], [{ seat: 'a', rank: 10 }])[0]).toMatch(/^groups\[2\]\.members\[0\]\.rank/);
  expect(faults([{ ...seat('a'), unattended: { passTo: {} } }])[0]).toMatch(
    /^seats\[0\]\.unattended\.passTo/,
  );
  expect(faults([{ ...seat('a'), unattended: null }])).toEqual([]);
  const world = { seats: { a: { state: 'asleep' }, b: { at: { number: '12' } } } };
  const given = { from: null, to: '4290', at: '2026-11-24T10:00:00-07:00', world };
  expect(
    callFaults(given)
      .map(({ path }) => path)
      .sort(),
  ).toEqual(['world.seats.a.state', 'world.seats.b.at.number']);
  expect(
    strangersInWorld(compileEstate(estateWith({}, [])), { ...given, world: { seats: { c: {} } } })[0]?.path,
  ).toBe('world.seats.c');
});
