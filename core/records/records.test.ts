import * as fc from 'fast-check';
import { compileEstate, runInDetail } from '../calls/engine';
import { readMoney, readTariff } from '../formats';
import { workedCalls, workedEstate } from '../tests/worked';
import {
  answerTimes,
  chargedMs,
  costOf,
  legCost,
  lineFor,
  readRecords,
  recordValues,
  replay,
  type CallRecord,
  type RecordedLeg,
  type TariffLine,
} from '.';

const leg = (more: Partial<RecordedLeg> = {}): RecordedLeg => ({
  endpoint: '+17785550115',
  dialledMs: 0,
  alertMs: 2000,
  endMs: 9000,
  end: 'connected',
  ...more,
});
const record = (more: Partial<CallRecord> = {}): CallRecord => ({
  id: 'a',
  startMs: Date.parse('2026-11-25T22:20:00Z'),
  from: '+16045550100',
  to: '4101',
  outcome: 'answered',
  atMs: 9000,
  talkMs: 61_000,
  legs: [leg()],
  ...more,
});

describe('Reading call records', () => {
  const { startMs: _ms, ...rest } = record();
  const written = { ...rest, startAt: '2026-11-25T14:20:00.000-08:00', outcome: 'foreign-mailbox' };
  const faults = (values: readonly unknown[]) => {
    const read = readRecords(values);
    return read.ok ? [] : read.faults.map(({ path, message }) => `${path}: ${message}`);
  };
  test('a list or JSON lines, moments with their offset or as ms, and the older word', () => {
    const one = recordValues(JSON.stringify([written]));
    const lines = recordValues(
      `${JSON.stringify(written)}\n\n${JSON.stringify({ ...written, id: 'b', startAt: 5 })}\n`,
    );
    if (!one.ok || !lines.ok) throw new Error('not read');
    const read = readRecords([...one.values, ...lines.values.slice(1)]);
    if (!read.ok) throw new Error(JSON.stringify(read.faults));
    expect(read.records.map(({ startMs, outcome }) => [startMs, outcome])).toEqual([
      [Date.parse('2026-11-25T22:20:00Z'), 'carrier-voicemail'],
      [5, 'carrier-voicemail'],
    ]);
    expect(recordValues('{"a":1}\n{')).toMatchObject({ ok: false, fault: { path: 'line 2' } });
  });
  test.each([
    ['an unknown field', { colour: 'red' }, '[0].colour: is not a known field here'],
    ['no moment', { startAt: 'yesterday' }, '[0].startAt: must be ms since 1970'],
    ['an unknown outcome', { outcome: 'fine' }, '[0].outcome: must be one of answered'],
    ['a leg that ends before it rings', { legs: [leg({ endMs: 1 })] }, '[0].legs[0]: ends before it begins'],
    ['an unknown end', { legs: [{ ...leg(), end: 'well' }] }, '[0].legs[0].end: must be one of bad-number'],
    ['a world that is none', { world: { moon: 1 } }, '[0].world.moon: is not a known field'],
  ])('%s is a fault with its path', (_name, more, expected) => {
    expect(faults([{ ...written, ...more }])[0]).toContain(expected);
  });
  test('one id twice is a fault; what is no object says so', () => {
    expect(faults([written, written])).toEqual(['[1].id: “a” stands twice']);
    expect(faults([null])).toEqual(['[0]: must be an object']);
  });
});

test('answers: who takes or refuses the call has answered, a voicemail and all others have not', () => {
  const records = [
    record(),
    record({ id: 'b', legs: [leg({ end: 'refused', answerMs: 7000 })] }),
    record({ id: 'c', outcome: 'carrier-voicemail', legs: [leg({ endMs: 27_000 })] }),
    record({
      id: 'd',
      legs: [leg({ end: 'no-answer', endMs: 22_000 }), leg({ endpoint: 'desk', alertMs: null })],
    }),
    record({ id: 'e', legs: [leg({ end: 'not-confirmed', answerMs: 4000, endMs: 12_000 })] }),
  ];
  expect(answerTimes(records)).toMatchObject({
    n: 5,
    answered: 2,
    curve: [
      { atMs: 5000, atRisk: 5, answered: 1, share: expect.closeTo(0.2, 12) },
      { atMs: 7000, atRisk: 4, answered: 1, share: expect.closeTo(0.4, 12) },
    ],
  });
  expect(answerTimes(records, 'desk')).toEqual({ n: 0, answered: 0, curve: [] });
});

describe('Replay', () => {
  const index = compileEstate(workedEstate());
  test('a call that the engine ran ends the same when it is run again from what was written of it', () => {
    const differ: string[] = [];
    for (const { call, name } of workedCalls().map((each, at) => ({ ...each, name: String(at) }))) {
      const { trace, details } = runInDetail(index, call);
      // What a caller keyed in, engaged people and groups' turns no leg tells: those records keep their world.
      const { presses, code, activeCalls, groupLast, idleMs } = call.world ?? {};
      const isTold = !(presses ?? code ?? activeCalls ?? groupLast ?? idleMs);
      const written = record({
        id: name,
        startMs: Date.parse(call.at),
        from: call.from,
        to: call.to,
        ...(call.arrival ? { arrival: call.arrival } : {}),
        outcome: trace.outcome.kind,
        atMs: trace.outcome.atMs,
        legs: trace.legs.map((each, at) => {
          const answerMs = details[at]?.confirmFromMs ?? null;
          return { ...each, ...(answerMs === null ? {} : { answerMs }) };
        }),
        ...(isTold ? {} : { world: call.world ?? {} }),
      });
      const [again] = replay([written], index);
      if (again?.outcome.kind !== trace.outcome.kind || again.outcome.atMs !== trace.outcome.atMs)
        differ.push(name);
    }
    expect(differ).toEqual([]);
  });
  test('under another estate the same call may end otherwise', () => {
    const estate = workedEstate();
    const [person] = estate.people;
    const extension = person?.lines[0]?.extension ?? '';
    const stopped = compileEstate({
      ...estate,
      people: estate.people.map((each) =>
        each.id === person?.id
          ? {
              ...each,
              plan: { rules: [], otherwise: { stages: [], ending: { kind: 'hang-up', message: 'closed' } } },
            }
          : each,
      ),
    });
    const [ran] = replay([record({ to: extension, legs: [] })], index, stopped);
    expect(ran?.after).toMatchObject({ kind: 'hung-up' });
    expect(ran?.outcome.kind).not.toBe('hung-up');
  });
});

describe('Cost', () => {
  const line = (more: Partial<TariffLine> = {}): TariffLine => ({
    prefix: '+1',
    name: 'North America',
    perMinute: 1250,
    perCall: 0,
    firstS: 60,
    nextS: 6,
    from: null,
    trunk: null,
    ...more,
  });
  test.each([
    [0, 60, 1250],
    [60_000, 60, 1250],
    [60_001, 66, 1375],
    [66_000, 66, 1375],
    [66_001, 72, 1500],
  ])('%s ms is charged as %s s, %s hundred-thousandths', (ms, seconds, cost) => {
    expect(legCost(line(), ms)).toEqual({ seconds, cost });
  });
  test('it is rounded up once for a leg, and never loses a hundred-thousandth', () => {
    expect(legCost(line({ perMinute: 1, firstS: 1, nextS: 1 }), 1000)).toEqual({ seconds: 1, cost: 1 });
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 900_000_000 }),
        fc.integer({ min: 1, max: 60 }),
        fc.integer({ min: 1, max: 60 }),
        fc.integer({ min: 0, max: 7_200_000 }),
        (perMinute, firstS, nextS, ms) => {
          const { seconds, cost } = legCost(line({ perMinute, firstS, nextS }), ms);
          expect(seconds * 1000).toBeGreaterThanOrEqual(ms);
          expect(BigInt(cost) * 60n >= BigInt(perMinute) * BigInt(seconds)).toBe(true);
          expect((BigInt(cost) - 1n) * 60n < BigInt(perMinute) * BigInt(seconds)).toBe(true);
        },
      ),
    );
  });
  test('a leg is charged from its answer to its end, the talk with it, unconfirmed ones too', () => {
    expect(chargedMs(record(), leg())).toBe(61_000);
    expect(chargedMs(record(), leg({ answerMs: 7000 }))).toBe(63_000);
    expect(chargedMs(record(), leg({ answerMs: 9000, endMs: 70_000 }))).toBe(61_000);
    expect(chargedMs(record(), leg({ end: 'not-confirmed', answerMs: 4000, endMs: 12_000 }))).toBe(8000);
    expect(chargedMs(record(), leg({ end: 'no-answer' }))).toBeNull();
  });
  test('the longest prefix counts, one for the trunk first, the latest that is in force', () => {
    const tariff = {
      currency: 'CAD',
      lines: [
        line({ name: 'all' }),
        line({ name: 'BC', prefix: '+1778' }),
        line({ name: 'BC later', prefix: '+1778', from: '2026-11-26' }),
        line({ name: 'BC old', prefix: '+1778', from: '2026-01-01' }),
        line({ name: 'BC over quay', prefix: '+1778', trunk: 'quay' }),
      ],
    };
    const named = (number: string, day: string, trunk?: string) => lineFor(tariff, number, day, trunk)?.name;
    expect(named('+16045550100', '2026-11-25')).toBe('all');
    expect(named('+17785550115', '2026-11-25')).toBe('BC old');
    expect(named('+17785550115', '2026-11-26')).toBe('BC later');
    expect(named('+17785550115', '2026-11-26', 'quay')).toBe('BC over quay');
    expect(named('+442079460000', '2026-11-25')).toBeUndefined();
  });
  test('a day begins in the zone; what has no line is told apart', () => {
    const tariff = { currency: 'CAD', lines: [line(), line({ from: '2026-11-26', perMinute: 6000 })] };
    const late = record({
      startMs: Date.parse('2026-11-26T03:00:00Z'),
      legs: [leg(), leg({ endpoint: '+4420794600' })],
    });
    expect(costOf(tariff, [late]).total).toBe(6600);
    expect(costOf(tariff, [late], 'America/Vancouver')).toMatchObject({
      total: 1375,
      byNumber: [{ number: '+17785550115', legs: 1, seconds: 66, total: 1375 }],
      unpriced: ['+4420794600'],
    });
  });
  test('tariffs are read from CSV, with the place of each fault', () => {
    const read = readTariff(
      'Prefix;Name;Per minute;Per call;First interval;Next interval;From;Trunk;Currency\n+1;All;0,0125;0;60;6;;;CAD\n44;Abroad;1.5;0.05;;;2026-01-01;quay;\n',
    );
    expect(read).toEqual({
      ok: true,
      tariff: {
        currency: 'CAD',
        lines: [
          {
            prefix: '+1',
            name: 'All',
            perMinute: 1250,
            perCall: 0,
            firstS: 60,
            nextS: 6,
            from: null,
            trunk: null,
          },
          {
            prefix: '+44',
            name: 'Abroad',
            perMinute: 150_000,
            perCall: 5000,
            firstS: 1,
            nextS: 1,
            from: '2026-01-01',
            trunk: 'quay',
          },
        ],
      },
    });
    expect(
      readTariff('prefix,per minute,currency\n+1,0.0125,CAD\n1,0.1,CAD\nx,0.123456,USD\n'),
    ).toMatchObject({
      ok: false,
      faults: [
        { line: 3, column: 1, message: '+1 stands in line 2 already, from the same date' },
        { line: 4, column: 1 },
        { line: 4, column: 3, message: 'must be CAD, as above: one currency for the file' },
        { line: 4, column: 2 },
      ],
    });
    expect(readTariff('prefix\n+1\n')).toMatchObject({
      ok: false,
      faults: [{ message: 'there is no column “per minute”' }],
    });
    expect([readMoney('0.00001'), readMoney('12'), readMoney('-1'), readMoney('0.000001')]).toEqual([
      1,
      1_200_000,
      null,
      null,
    ]);
  });
});
