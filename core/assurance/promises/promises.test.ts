import fc from 'fast-check';
import { finderOf, sliceFor } from '../../editing';
import type { Ending, Estate, Person, RingTarget, Treatment, PromiseKind, ReachPromise } from '../../estate';
import { compileEstate, runInDetail, type Call, type EndpointBehaviour } from '../../calls/engine';
import { isoIn, scheduleClock } from '../../calls/time';
import { findMend } from './mend';
import { PROMISE_KINDS } from './types';
import { sayPromise } from './words';
import { judgeOf } from './judge';
import { momentsOf, nextMoment } from './moments';
import { estateWith, FROM, prove, PROMISES, ring } from '../../tests/promised';

const verdicts = (estate: Estate, ...kinds: PromiseKind[]) =>
  Object.fromEntries(
    prove(
      estate,
      PROMISES.filter(({ kind }) => kinds.includes(kind)),
    ).proofs.map(({ promise, holds }) => [promise.kind, holds]),
  );

const desk: RingTarget = { endpoint: 'ada-desk' };
const careful: RingTarget = { endpoint: 'ada-mobile', acceptAfterMs: 3000, giveUpAfterMs: 18_000 };
const own: Ending = { kind: 'mailbox' };

describe('what a promise says', () => {
  test.each<[string, Treatment, Partial<Record<PromiseKind, boolean>>]>([
    [
      'a careful plan keeps what it should',
      { stages: [ring(20_000, desk, careful)], ending: own },
      { 'own-mailbox': true, 'no-carrier-voicemail': true, 'no-cut-off': true, 'no-stranger': true },
    ],
    [
      'without a guard the voicemail of a mobile that is off takes the call',
      { stages: [ring(20_000, desk, { endpoint: 'ada-mobile', giveUpAfterMs: 18_000 })], ending: own },
      { 'no-carrier-voicemail': false, 'no-cut-off': true },
    ],
    [
      'ringing as long as the carrier picks up loses the call to it',
      { stages: [ring(21_000, desk, { endpoint: 'ada-mobile', acceptAfterMs: 3000 })], ending: own },
      { 'no-carrier-voicemail': false },
    ],
    [
      'a guard beyond the quickest answer cuts people off',
      { stages: [ring(20_000, desk, { ...careful, acceptAfterMs: 6500 })], ending: own },
      { 'no-cut-off': false, 'no-carrier-voicemail': true },
    ],
    [
      'accepted by key, no voicemail takes the call whatever the times',
      { stages: [ring(24_000, { endpoint: 'ada-mobile', confirm: 'key' })], ending: own },
      { 'no-carrier-voicemail': true, 'wait-at-most': false },
    ],
    [
      'a mailbox that is somebody else’s',
      { stages: [ring(20_000, desk)], ending: { kind: 'person', person: 'ben' } },
      { 'own-mailbox': false, 'no-stranger': false },
    ],
    [
      'a forward back to oneself goes round',
      { stages: [], ending: { kind: 'person', person: 'ada' } },
      { 'no-loop': false },
    ],
    [
      'one phone alone is one too few',
      { stages: [ring(20_000, desk)], ending: own },
      { 'one-lost': false, 'rings-within': false },
    ],
  ])('%s', (_name, treatment, expected) => {
    expect(verdicts(estateWith(treatment), ...(Object.keys(expected) as PromiseKind[]))).toEqual(expected);
  });

  test('a permission that is missing, and a leaver whose phone still rings', () => {
    const rings = { stages: [ring(20_000, careful)], ending: own };
    expect(verdicts(estateWith(rings, { permission: 'none' }), 'may-dial')).toEqual({ 'may-dial': false });
    expect(verdicts(estateWith(rings, { status: 'left' }), 'no-leaver')).toEqual({ 'no-leaver': false });
    expect(verdicts(estateWith(rings), 'may-dial', 'no-leaver')).toEqual({
      'may-dial': true,
      'no-leaver': true,
    });
  });

  test('times that vary with the carrier: safe as they are, not with a fifth more or less', () => {
    const estate = estateWith({ stages: [ring(20_000, { ...careful, acceptAfterMs: 2000 })], ending: own });
    const kinds = PROMISES.filter(({ kind }) => kind === 'no-carrier-voicemail');
    expect(prove(estate, kinds).proofs[0]?.holds).toBe(true);
    expect(prove(estate, kinds, 0.2).proofs[0]?.holds).toBe(false);
    // A promise can ask for it by itself; those beside it are proved as before, in the order in which they stand.
    const two: ReachPromise[] = [
      { kind: 'no-carrier-voicemail', spread: 0.2 },
      { kind: 'own-mailbox', withinMs: 60_000 },
      { kind: 'no-carrier-voicemail' },
    ];
    const run = prove(estate, two);
    expect(run.proofs.map(({ promise, holds }) => [promise, holds])).toEqual([
      [two[0], false],
      [two[1], true],
      [two[2], true],
    ]);
    expect(run.cases).toBeGreaterThan(prove(estate, [two[2]!]).cases);
  });

  test('a call that begins inside the hours can ring a mobile outside them', () => {
    const guarded: RingTarget = { ...careful, schedule: { id: 'office', inside: true } };
    const estate = estateWith({ stages: [ring(20_000, guarded)], ending: own });
    const [proof] = prove(estate, [{ kind: 'only-inside', schedule: 'office' }]).proofs;
    expect(proof).toMatchObject({ holds: false, broken: { call: { at: '2026-11-23T16:59:54.800-07:00' } } });
    const early = {
      ...estate,
      schedules: [
        ...estate.schedules,
        {
          ...estate.schedules[0]!,
          id: 'early',
          weekly: [{ days: ['mon'] as const, from: '09:00', to: '16:00' }],
        },
      ],
    };
    const safe: RingTarget = { ...careful, schedule: { id: 'early', inside: true } };
    const within = { ...early, people: estateWith({ stages: [ring(20_000, safe)], ending: own }).people };
    expect(prove(within, [{ kind: 'only-inside', schedule: 'office' }]).proofs[0]?.holds).toBe(true);
  });
});

/** Everything a phone can do, on a grid of one second. */
const grid = (isNumber: boolean, confirmed: boolean): readonly EndpointBehaviour[] => {
  const seconds = Array.from({ length: 22 }, (_, i) => i * 1000);
  const presses: readonly EndpointBehaviour[] = confirmed
    ? [0, 2000, 10_000, null].map((pressAfterMs) => ({ pressAfterMs }))
    : [{}];
  return [
    {},
    ...seconds.flatMap((answerAfterMs) => presses.map((press) => ({ answerAfterMs, ...press }))),
    ...seconds.map((rejectAfterMs) => ({ rejectAfterMs })),
    { state: 'busy' },
    { state: 'do-not-disturb' },
    ...presses.map((press) => ({ state: 'auto-answer' as const, ...press })),
    isNumber ? { state: 'off' } : { state: 'unregistered' },
  ];
};
const times = fc.constantFrom(0, 1000, 3000, 6000, 9000, 15_000, 18_000);
const target: fc.Arbitrary<RingTarget> = fc
  .record({
    endpoint: fc.constantFrom('ada-desk', 'ada-mobile'),
    delayMs: fc.constantFrom(0, 0, 3000),
    acceptAfterMs: times,
    giveUpAfterMs: fc.constantFrom(null, 9000, 18_000),
    confirm: fc.constantFrom('none' as const, 'none' as const, 'key' as const),
  })
  .map((t) => t);
const stage = fc.record({
  ring: fc.uniqueArray(target, { selector: (t) => t.endpoint, minLength: 1, maxLength: 2 }),
  forMs: fc.constantFrom(5000, 10_000, 20_000, 25_000),
});
const ending = fc.constantFrom<Ending[]>(
  { kind: 'mailbox' },
  { kind: 'person', person: 'ben' },
  { kind: 'endpoint', endpoint: 'ada-desk' },
);

test('small plans: what is proved holds in every case of a grid, and what is broken is shown by a call', () => {
  let gone = 0;
  let held = 0;
  let broke = 0;
  fc.assert(
    fc.property(fc.array(stage, { minLength: 1, maxLength: 2 }), ending, (stages, then) => {
      const estate = estateWith({ stages, ending: then });
      const { proofs, complete } = prove(estate);
      if (!complete) return;
      gone += 1;
      const index = compileEstate(estate);
      const ada = index.people.get('ada')!;
      const judges = new Map(proofs.map(({ promise }) => [promise.kind, judgeOf(promise, index, ada)]));
      const broken = new Set<PromiseKind>();
      const confirmed = stages.some((s) => s.ring.some((t) => t.confirm === 'key'));
      for (const d of grid(false, confirmed))
        for (const m of grid(true, confirmed)) {
          const endpoints = { 'ada-desk': d, 'ada-mobile': m };
          const call: Call = {
            from: '+0',
            to: '4100',
            at: '2026-11-24T10:00:00-07:00',
            world: { endpoints },
          };
          const run = runInDetail(index, call, false);
          for (const [kind, judge] of judges) if (!broken.has(kind) && judge(call, run)) broken.add(kind);
        }
      for (const { promise, holds, broken: shown } of proofs) {
        if (holds) {
          held += 1;
          expect({ kind: promise.kind, broken: broken.has(promise.kind) }).toEqual({
            kind: promise.kind,
            broken: false,
          });
        } else {
          broke += 1;
          const { call } = shown!;
          expect(judges.get(promise.kind)!(call, runInDetail(index, call, false))).not.toBeNull();
        }
      }
    }),
    { numRuns: Number(process.env.HOSTLER_RUNS ?? 25) },
  );
  expect(Math.min(held, broke, gone)).toBeGreaterThan(10);
});

test('a plan with hours: what is proved holds at every half second around their turns', () => {
  fc.assert(
    fc.property(target, target, fc.boolean(), fc.boolean(), (a, b, insideA, insideB) => {
      const first = ring(8000, { ...a, schedule: { id: 'office', inside: insideA } });
      const second = ring(8000, { ...b, schedule: { id: 'office', inside: insideB } });
      const estate = estateWith({ stages: [first, second], ending: own });
      const kept = prove(estate).proofs.filter(({ holds }) => holds);
      const index = compileEstate(estate);
      const judges = kept.map(({ promise }) => ({
        promise,
        judge: judgeOf(promise, index, index.people.get('ada')!),
      }));
      const behaviours: readonly EndpointBehaviour[] = [
        {},
        { rejectAfterMs: 0 },
        { rejectAfterMs: 4500 },
        { state: 'busy' },
        { answerAfterMs: 2500 },
      ];
      for (const turn of ['2026-11-24T08:00:00-07:00', '2026-11-27T17:00:00-07:00'])
        for (let ms = -30_000; ms <= 500; ms += 500) {
          const at = isoIn(Date.parse(turn) + ms, 'America/Vancouver');
          for (const d of behaviours)
            for (const m of behaviours) {
              const endpoints = { 'ada-desk': d, 'ada-mobile': m };
              const call: Call = { from: '+0', to: '4100', at, world: { endpoints } };
              const run = runInDetail(index, call, false);
              for (const { promise, judge } of judges)
                if (judge(call, run)) throw new Error(`${promise.kind} is broken by ${JSON.stringify(call)}`);
            }
        }
    }),
    { numRuns: Number(process.env.HOSTLER_RUNS ?? 5) },
  );
});

test('moments: a week of office hours has two kinds of steady time and two of turning', () => {
  const clock = scheduleClock(estateWith({ stages: [], ending: own }).schedules[0]!);
  const { steady, turning } = momentsOf([clock], FROM, FROM + 53 * 7 * 86_400_000, 60_000);
  expect(steady.map((at) => clock.inside(at))).toEqual([false, true]);
  expect(turning).toHaveLength(2);
  const [turn] = turning[0]!.turns;
  expect(nextMoment(turn! - 60_000, [0, 20_000], [turn!])).toBe(turn! - 20_000);
  expect(nextMoment(turn! - 20_000, [0, 20_000], [turn!])).toBe(turn);
  expect(nextMoment(turn!, [0, 20_000], [turn!])).toBe(Infinity);
});

describe('mends', () => {
  const mendOf = (estate: Estate, kind: PromiseKind) => {
    const slice = sliceFor(estate, finderOf(estate), 'ada');
    const broken = PROMISES.find((promise) => promise.kind === kind)!;
    const others = PROMISES.filter((promise) => promise !== broken);
    return findMend(slice, 'ada', broken, others, { spread: 0, fromMs: FROM, everyStatus: false });
  };
  test.each<[PromiseKind, Treatment, Partial<Person>]>([
    ['no-carrier-voicemail', { stages: [ring(24_000, desk, { endpoint: 'ada-mobile' })], ending: own }, {}],
    ['no-cut-off', { stages: [ring(20_000, { ...careful, acceptAfterMs: 6201 })], ending: own }, {}],
    ['no-stranger', { stages: [ring(20_000, desk)], ending: { kind: 'person', person: 'ben' } }, {}],
    ['may-dial', { stages: [ring(20_000, careful)], ending: own }, { permission: 'none' }],
    ['no-loop', { stages: [], ending: { kind: 'person', person: 'ada' } }, {}],
    ['own-mailbox', { stages: [ring(60_000, desk)], ending: own }, {}],
    ['wait-at-most', { stages: [ring(60_000, desk)], ending: own }, {}],
  ])('%s: what is found makes the promise hold', (kind, treatment, more) => {
    const estate = estateWith(treatment, more);
    expect(verdicts(estate, kind)).toEqual({ [kind]: false });
    const mend = mendOf(estate, kind);
    expect(mend?.text).toBeTruthy();
    const mended = { ...estate, people: [mend!.person, estate.people[1]!] };
    expect(verdicts(mended, kind)).toEqual({ [kind]: true });
  });
  test('where no change of the person does it, none is offered', () => {
    const gone = estateWith({ stages: [ring(20_000, careful)], ending: own }, { permission: 'none' });
    expect(
      mendOf({ ...gone, permissions: [{ id: 'none', name: 'None', allow: [] }] }, 'may-dial'),
    ).toBeNull();
  });
});

test('every kind of promise has its sentence, with its times in seconds', () => {
  const names = { person: () => 'Ben Two', schedule: () => 'Office', status: () => 'Has left' };
  expect(new Set(PROMISES.map(({ kind }) => kind))).toEqual(new Set(PROMISE_KINDS));
  expect(sayPromise(PROMISES[0]!, names)).toContain('within 25 s');
  expect(sayPromise({ kind: 'no-stranger', allowed: ['ben'] }, names)).toMatch(/or that of Ben$/);
});
