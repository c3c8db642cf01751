import fc from 'fast-check';
import type { Endpoint, Estate, RingTarget } from '../../estate';
import { workedEstate } from '../../tests/worked';
import { adviseTimes, carrierTimes, timesFaults, type CarrierTimes } from './advice';
import { compileEstate, runCall } from '../engine';

const mobile = (more: Partial<Endpoint> = {}): Endpoint => ({
  id: 'm',
  label: 'Mobile',
  kind: 'mobile',
  number: '+17785550101',
  ...more,
});
const range = (least: number, most: number) => ({ least, most });

test('the windows of an ordinary mobile: above its off answer, at or below the quickest person; before its pick-up', () => {
  const advice = adviseTimes(carrierTimes(mobile())!);
  expect(advice).toMatchObject({
    guard: { fromMs: 1801, toMs: 6200 },
    giveUp: { fromMs: 15_200, toMs: 25_199 },
    take: { guardMs: 4000, giveUpMs: 24_500 },
  });
});
test.each<[string, CarrierTimes, boolean, boolean]>([
  [
    'an off answer as late as a person',
    { setup: range(800, 2000), offAnswer: range(900, 1800), pickUp: range(20_000, 20_000) },
    false,
    true,
  ],
  [
    'the last off answer that leaves a guard',
    { setup: range(800, 2000), offAnswer: range(900, 1799), pickUp: range(20_000, 20_000) },
    true,
    true,
  ],
  [
    'a pick-up too soon',
    { setup: range(5000, 5000), offAnswer: range(1800, 1800), pickUp: range(10_000, 12_000) },
    true,
    false,
  ],
  [
    'a pick-up just late enough',
    { setup: range(5000, 5000), offAnswer: range(1800, 1800), pickUp: range(10_001, 12_000) },
    true,
    true,
  ],
])('%s', (_name, times, guard, giveUp) => {
  const advice = adviseTimes(times);
  expect([advice.guard !== null, advice.giveUp !== null, advice.take !== null]).toEqual([
    guard,
    giveUp,
    guard && giveUp,
  ]);
  if (!guard) expect(advice.guardWhy).toMatch(/confirm with a key/);
  if (!giveUp) expect(advice.giveUpWhy).toMatch(/confirm with a key/);
});
test('no voicemail, no advice', () => {
  expect(carrierTimes(mobile({ mailboxAfterMs: null }))).toBeNull();
  expect(carrierTimes({ id: 'd', label: 'Desk', kind: 'desk' })).toBeNull();
});

/** One mobile that rings for 60 s with these times; the engine decides what becomes of a call. */
function callWith(target: RingTarget, does: object): ReturnType<typeof runCall> {
  const demo = workedEstate();
  const estate: Estate = {
    ...demo,
    people: demo.people.map((p) =>
      p.id === 'tomasz'
        ? {
            ...p,
            plan: {
              rules: [],
              otherwise: { stages: [{ ring: [target], forMs: 60_000 }], ending: { kind: 'mailbox' } },
            },
          }
        : p,
    ),
  };
  return runCall(compileEstate(estate), {
    from: '+16045550199',
    to: '4102',
    at: '2026-11-24T10:00:00-07:00',
    world: { endpoints: { 'tomasz-mobile': does } },
  });
}

test('any guard and give-up of the windows keep the voicemail out and every person in, as the engine has it', () => {
  const ms = (min: number, max: number) => fc.integer({ min, max });
  let held = 0;
  fc.assert(
    fc.property(
      fc.record({
        setup: fc.tuple(ms(2500, 9000), ms(2500, 9000)),
        off: fc.tuple(ms(0, 4000), ms(0, 4000)),
        pick: fc.tuple(ms(14_000, 40_000), ms(14_000, 40_000)),
      }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      ms(0, 1),
      ({ setup, off, pick }, part, end) => {
        const sorted = ([a, b]: readonly [number, number]) => range(Math.min(a, b), Math.max(a, b));
        const times = { setup: sorted(setup), offAnswer: sorted(off), pickUp: sorted(pick) };
        const { guard, giveUp } = adviseTimes(times);
        if (!guard || !giveUp) return;
        held += 1;
        const within = (w: { fromMs: number; toMs: number }) =>
          Math.round(w.fromMs + (w.toMs - w.fromMs) * part);
        const target: RingTarget = {
          endpoint: 'tomasz-mobile',
          acceptAfterMs: within(guard),
          giveUpAfterMs: within(giveUp),
        };
        expect(timesFaults(target, 60_000, times)).toEqual([]);
        const setupMs = end ? times.setup.most : times.setup.least;
        const does = {
          setupMs,
          offAnswerMs: end ? times.offAnswer.most : times.offAnswer.least,
          mailboxAfterMs: end ? times.pickUp.most : times.pickUp.least,
        };
        expect(callWith(target, { ...does, state: 'off' }).outcome.kind).toBe('mailbox');
        expect(callWith(target, does).outcome.kind).toBe('mailbox');
        expect(callWith(target, { ...does, answerAfterMs: 1000 }).outcome.kind).toBe('answered');
        expect(callWith(target, { ...does, answerAfterMs: 10_000 }).outcome.kind).toBe('answered');
      },
    ),
    { numRuns: 60 },
  );
  // Most times that carriers have leave both windows open.
  expect(held).toBeGreaterThan(30);
});
test('times outside their windows are named', () => {
  const times = carrierTimes(mobile())!;
  const faults = (target: Omit<RingTarget, 'endpoint'>, forMs = 60_000) =>
    timesFaults({ endpoint: 'm', ...target }, forMs, times);
  expect(faults({})).toEqual(['guard-low', 'give-up-late']);
  expect(faults({ acceptAfterMs: 6201, giveUpAfterMs: 15_199 })).toEqual(['guard-high', 'give-up-early']);
  expect(faults({ acceptAfterMs: 1801 }, 25_199)).toEqual([]);
  expect(faults({ confirm: 'key' })).toEqual([]);
});
