import { treatmentAt } from '../../editing';
import type { Person } from '../../estate';
import { instantOf } from '../time';
import { compileEstate, type Call } from '../engine';
import { describeTreatment, plain } from './describe';
import { judgeReach } from './judge';
import { tryCall } from './strip';
import { workedEstate } from '../../tests/worked';

const estate = workedEstate();
const index = compileEstate(estate);
const AT = '2026-11-24T14:20:00-07:00';
const call = (more: Partial<Call>): Call => ({
  from: '+16045550199',
  to: '4101',
  at: AT,
  world: {},
  ...more,
});

describe('the ring strip', () => {
  test('lanes hold what rang, the marks that decide, and what happened', () => {
    const { strip } = tryCall(index, call({}), 'ines');
    expect(strip).toMatchObject({
      tone: 'reached',
      endMs: 25_000,
      horizonMs: 30_000,
      ending: 'Voicemail for Ines after 25 s.',
    });
    const [desk, mobile] = strip.lanes;
    expect(desk).toMatchObject({
      label: 'Dock office phone',
      segments: [
        { kind: 'setup', fromMs: 0, toMs: 200 },
        { kind: 'ring', fromMs: 200, toMs: 25_000 },
      ],
      result: 'rings 24.8 s',
    });
    expect(mobile?.segments).toEqual([
      { kind: 'setup', fromMs: 0, toMs: 5200 },
      { kind: 'ring', fromMs: 5200, toMs: 17_500 },
    ]);
    expect(mobile?.marks.map((mark) => [mark.kind, mark.atMs])).toEqual([
      ['guard', 2300],
      ['give-up', 17_500],
      ['voicemail', 25_200],
    ]);
  });
  test('a target that is left out has a silent lane that says why', () => {
    const { strip } = tryCall(
      index,
      call({ to: '4106', from: '+17785550190', at: '2026-11-24T19:00:00-07:00' }),
      'amara',
    );
    expect(strip.lanes[1]).toMatchObject({
      endpoint: 'amara-mobile',
      silent: true,
      segments: [],
      result: 'left out: set to ring only inside "Office hours"',
    });
  });
  test('the time between answer and key is its own', () => {
    const { strip } = tryCall(index, call({ to: '4102' }), 'tomasz');
    expect(strip.lanes[1]?.segments.map((s) => s.kind)).toEqual(['setup', 'ring', 'confirm']);
    expect(tryCall(index, call({ to: '4102' }), 'ines').strip.lanes[1]?.label).toBe("Tomasz's mobile");
  });
  test('rounds of a queue share the lanes; menus and offers are bands', () => {
    const { strip } = tryCall(index, call({ to: '4201' }));
    expect(strip.lanes.map((lane) => lane.endpoint)).toEqual([
      'tomasz-app',
      'ines-desk',
      'ines-mobile',
      'jonah-mobile',
    ]);
    expect(strip.lanes[0]?.segments).toHaveLength(6);
    expect(strip.bands.map((band) => band.kind)).toContain('queue');
    expect(tryCall(index, call({ to: '4000' })).strip.bands[0]).toMatchObject({
      kind: 'menu',
      fromMs: 0,
      toMs: 12_000,
    });
  });
});

test('plans read as sentences', () => {
  const say = (id: string, treatment: string) => {
    const { plan } = index.people.get(id)!;
    return plain(describeTreatment(index, treatmentAt(plan, treatment), id));
  };
  expect(say('ines', 'r-office')).toBe(
    'Rings the dock office phone and the mobile together for 25 s. Nobody answers: voicemail for Ines.',
  );
  expect(say('ines', 'r-leave')).toBe("Rings nothing: on to Ruth's own plan at once.");
  expect(say('ruth', 'otherwise')).toBe(
    "Rings the bookings desk and the mobile after 5 s together for 20 s, then Ines's dock office phone for 15 s. Nobody answers: voicemail for Ruth.",
  );
  expect(say('jonah', 'r-sea')).toBe(
    'A greeting of 9 s offers key 1, key 0, then the mobile (says who calls, press 1 to accept) for 25 s. Nobody answers: voicemail for Jonah.',
  );
});

describe('how somebody can be reached', () => {
  const now = instantOf(AT)!;
  const judge = (id: string, change: (person: Person) => Person = (p) => p) => {
    const people = estate.people.map((p) => (p.id === id ? change(p) : p));
    const changed = compileEstate({ ...estate, people });
    return judgeReach(changed, changed.people.get(id)!, now);
  };
  const inesMobile = (more: object) => (p: Person) =>
    JSON.parse(
      JSON.stringify(p).replace('"acceptAfterMs":2300', JSON.stringify(more).slice(1, -1)),
    ) as Person;
  test('reached: an own mailbox whatever the mobile does', () => {
    expect(judge('ines').state).toBe('reached');
  });
  test('at risk: no guard against a mobile that is off, or one that cuts off the quick', () => {
    expect(judge('ines', inesMobile({ acceptAfterMs: 0 }))).toMatchObject({
      state: 'at-risk',
      why: expect.stringContaining('With the mobile off'),
    });
    expect(judge('ines', inesMobile({ acceptAfterMs: 7000 }))).toMatchObject({
      state: 'at-risk',
      why: 'The answer guard on the mobile cuts off whoever answers quickly.',
    });
  });
  test('at risk: a leg that may not be dialled', () => {
    expect(judge('ruth')).toMatchObject({
      state: 'at-risk',
      why: 'Mobile never rings: the permission does not allow its number.',
    });
  });
  test('lost: the carrier takes an unanswered call; no line at all', () => {
    const lost = judge('amara');
    expect(lost).toMatchObject({ state: 'lost', why: expect.stringContaining("carrier's voicemail") });
    expect(lost.call && tryCall(index, lost.call).trace.outcome.kind).toBe('carrier-voicemail');
    expect(judge('ines', (p) => ({ ...p, lines: [] }))).toMatchObject({ state: 'lost', call: null });
  });
});
