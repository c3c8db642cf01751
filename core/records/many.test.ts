import * as fc from 'fast-check';
import { compileEstate, runCall } from '../calls/engine';
import { timesFaults, carrierTimes } from '../calls/views';
import type { Person } from '../estate';
import { kaplanMeier } from '../statistics';
import { workedCalls, workedEstate } from '../tests/worked';
import {
  addedEffects,
  carrierPrefix,
  channelsTaken,
  effectCounter,
  gainOf,
  legsBeside,
  patternsOf,
  recordOfCall,
  recordStrip,
  replay,
  shareAt,
  timeForShare,
  trafficOf,
  withMeasuredTimes,
  type CallRecord,
} from '.';

const estate = workedEstate();
const index = compileEstate(estate);
/** The worked calls as they would have been recorded, with how everything behaved. */
const records: readonly CallRecord[] = workedCalls().map(({ call }, n) => {
  const trace = runCall(index, call);
  const record = recordOfCall({
    id: `w${n}`,
    startMs: Date.parse(call.at),
    call,
    trace,
    settledMs: trace.outcome.atMs,
    overMs: trace.outcome.atMs + 60_000,
  });
  return { ...record, ...(call.world ? { world: call.world } : {}) };
});

describe('What ringing longer brings', () => {
  const lives = fc.array(fc.record({ ms: fc.integer({ min: 0, max: 30_000 }), happened: fc.boolean() }), {
    minLength: 1,
    maxLength: 80,
  });
  test('two gains one after the other are one gain, and the first is the share itself', () =>
    fc.assert(
      fc.property(lives, (lifetimes) => {
        const curve = kaplanMeier(lifetimes);
        const [a, b, whole] = [gainOf(curve, 0, 9000), gainOf(curve, 9000, 20_000), gainOf(curve, 0, 20_000)];
        expect(a.share + b.share).toBeCloseTo(whole.share, 10);
        expect(gainOf(curve, -1, 20_000).share).toBeCloseTo(shareAt(curve, 20_000), 10);
        for (const gain of [a, b, whole])
          expect(gain.low <= gain.share + 1e-12 && gain.share <= gain.high + 1e-12).toBe(true);
      }),
      { numRuns: 150 },
    ));
  test('the shortest ring for a share is the first step that has it; one that is never reached is none', () => {
    const curve = kaplanMeier([1, 2, 3, 4].map((s) => ({ ms: s * 1000, happened: s < 4 })));
    expect([timeForShare(curve, 0.5), timeForShare(curve, 0.75), timeForShare(curve, 0.9)]).toEqual([
      2000,
      3000,
      null,
    ]);
  });
});

test('a slate over calls counts what running each call under both estates finds, in one part or in several', () => {
  const after = compileEstate({
    ...estate,
    people: estate.people.map((person) => ({
      ...person,
      plan: { rules: [], otherwise: { stages: [], ending: { kind: 'hang-up', message: '' } } },
    })),
  });
  const both = replay(records, index, after);
  const turned = both.filter(({ outcome: a, after: b }) => {
    const of = (outcome: object, key: string) =>
      key in outcome ? (outcome as Record<string, unknown>)[key] : null;
    return (
      a.kind !== b!.kind || of(a, 'endpoint') !== of(b!, 'endpoint') || of(a, 'person') !== of(b!, 'person')
    );
  });
  const count = (some: readonly CallRecord[]) => {
    const counter = effectCounter(index, after);
    some.forEach(counter.add);
    return counter.effect();
  };
  const whole = count(records);
  expect([whole.calls, whole.turned]).toEqual([records.length, turned.length]);
  expect(whole.lost).toBeGreaterThan(0);
  const half = records.length >> 1;
  const parts = addedEffects([count(records.slice(0, half)), count(records.slice(half))]);
  expect([parts.turned, parts.saved, parts.lost, parts.people]).toEqual([
    whole.turned,
    whole.saved,
    whole.lost,
    whole.people,
  ]);
});

test('what trunks carried is what second by second counting finds', () => {
  const [trunk] = estate.trunks;
  const start = Date.parse('2026-11-24T17:00:00Z');
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          at: fc.integer({ min: 0, max: 7000 }),
          rang: fc.integer({ min: 1, max: 60 }),
          talk: fc.integer({ min: 0, max: 900 }),
        }),
        { minLength: 1, maxLength: 12 },
      ),
      (calls) => {
        const some = calls.map(({ at, rang, talk }, n): CallRecord => ({
          id: `t${n}`,
          startMs: start + at * 1000,
          from: '4101',
          to: '4102',
          outcome: 'answered',
          atMs: rang * 1000,
          talkMs: talk * 1000,
          legs: [
            {
              endpoint: '+16045550199',
              dialledMs: 0,
              alertMs: 0,
              endMs: rang * 1000,
              end: 'connected',
              trunk: trunk!.id,
            },
          ],
        }));
        const taken = some.flatMap((record) => channelsTaken(index, record));
        const [traffic] = trafficOf(index, some);
        const seconds = (from: number, to: number) =>
          Array.from(
            { length: (to - from) / 1000 },
            (_, s) =>
              taken.filter((each) => each.fromMs <= from + s * 1000 && from + s * 1000 < each.toMs).length,
          );
        for (const hour of traffic!.busiest) {
          const from = Date.parse(`${hour.day}T${String(hour.hour).padStart(2, '0')}:00:00-07:00`);
          const counted = seconds(from, from + 3_600_000);
          expect(hour.erlangs).toBeCloseTo(counted.reduce((sum, each) => sum + each, 0) / 3600, 6);
          expect(hour.peak).toBe(Math.max(...counted));
        }
      },
    ),
    { numRuns: 25 },
  );
});

test('carriers’ times are set at the phones of that carrier alone, and their guards stay safe', () => {
  const person = estate.people.find(({ endpoints }) => endpoints.some(({ kind }) => kind === 'mobile'))!;
  const mobile = person.endpoints.find(({ kind }) => kind === 'mobile')!;
  const own: Person = {
    ...person,
    plan: {
      rules: [],
      otherwise: {
        stages: [
          { ring: [{ endpoint: mobile.id, acceptAfterMs: 2300, giveUpAfterMs: 22_000 }], forMs: 25_000 },
        ],
        ending: { kind: 'mailbox' },
      },
    },
  };
  const proposed = { setupMs: 4000, offAnswerMs: 2600, mailboxAfterMs: 15_000 };
  const changed = withMeasuredTimes(own, carrierPrefix(mobile.number!), proposed)!;
  const phone = changed.endpoints.find(({ id }) => id === mobile.id)!;
  expect(phone).toMatchObject({ mailboxAfterMs: 15_000 });
  const [stage] = changed.plan.otherwise.stages;
  const target = stage && 'ring' in stage ? stage.ring[0]! : null;
  expect(timesFaults(target!, 25_000, carrierTimes(phone)!)).toEqual([]);
  expect(withMeasuredTimes(own, '+4930', proposed)).toBeNull();
  expect(withMeasuredTimes(changed, carrierPrefix(mobile.number!), proposed)).toBeNull();
});

test('legs are laid beside each other, and another system’s words are taken for the same', () => {
  const leg = (endpoint: string, more: object = {}) => ({
    endpoint,
    dialledMs: 0,
    alertMs: 300,
    endMs: 20_000,
    end: 'no-answer' as const,
    ...more,
  });
  const how = (
    planned: Parameters<typeof legsBeside>[0],
    went: Parameters<typeof legsBeside>[1],
    isOwn = true,
  ) => legsBeside(planned, went, isOwn).map(({ endpoint, how: each }) => `${endpoint} ${each}`);
  expect(how([leg('a'), leg('b')], [leg('b'), leg('c')])).toEqual(['a missing', 'b same', 'c extra']);
  expect(how([leg('a')], [leg('a', { dialledMs: 5000 })])).toEqual(['a other-time']);
  expect(how([leg('a')], [leg('a', { endMs: 21_000 })])).toEqual(['a same']);
  expect(how([leg('a')], [leg('a', { end: 'caller-gone' })])).toEqual(['a other-end']);
  expect(how([leg('a')], [leg('a', { end: 'caller-gone' })], false)).toEqual(['a same']);
  const never = leg('a', { alertMs: null, endMs: 0, end: 'unregistered' });
  expect(how([never], [])).toEqual(['a missing']);
  expect(how([never], [], false)).toEqual([]);
});

test('what odd calls have in common is told of where chance would not have it, and of nobody otherwise', () => {
  const trait = (kind: string, id: string) => ({ kind, id, name: id });
  const calls = Array.from({ length: 200 }, (_, n) => ({
    isOdd: n < 20,
    traits: [trait('phone', n < 22 ? 'broken' : `p${n % 9}`), trait('hour', String(n % 12))],
  }));
  expect(patternsOf(calls)).toMatchObject([{ kind: 'phone', id: 'broken', withIt: { odd: 20, all: 22 } }]);
  expect(patternsOf(calls.map((call, n) => ({ ...call, isOdd: n % 10 === 0 })))).toEqual([]);
});

test('each worked call is drawn as it went: a lane for each leg, in its time', () => {
  for (const record of records) {
    const strip = recordStrip(index, record);
    expect(strip.lanes.length).toBe(record.legs.length);
    expect(new Set(strip.lanes.map(({ endpoint }) => endpoint)).size).toBe(strip.lanes.length);
    for (const { segments } of strip.lanes)
      for (const { fromMs, toMs } of segments) expect(fromMs < toMs && toMs <= strip.horizonMs).toBe(true);
  }
});
