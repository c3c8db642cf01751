import fc from 'fast-check';
import { finderOf, sliceFor } from '../../editing';
import { workedEstate } from '../../tests/worked';
import { compileEstate, runCall, type Call, type EndpointBehaviour } from '../engine';

const worked = workedEstate();
const endpoints = worked.people.flatMap((person) => person.endpoints.map((e) => e.id));
const ms = fc.integer({ min: 0, max: 40_000 });
const behaviour: fc.Arbitrary<EndpointBehaviour> = fc.record(
  {
    state: fc.constantFrom('ready', 'unregistered', 'asleep', 'off', 'busy', 'do-not-disturb', 'auto-answer'),
    answerAfterMs: ms,
    rejectAfterMs: ms,
    mailboxAfterMs: fc.option(ms),
    pressAfterMs: fc.option(ms),
    refuseAfterMs: ms,
    setupMs: fc.integer({ min: 0, max: 3000 }),
  },
  { requiredKeys: [] },
);
const anyCall: fc.Arbitrary<Call> = fc.record(
  {
    from: fc.constantFrom('+16045550199', '4103', '4104', null),
    to: fc.constantFrom('4101', '4102', '4103', '4104', '4105', '4106', '4200', '4201', '4000', '4999'),
    at: fc.constantFrom(
      '2026-11-24T10:00:00-07:00',
      '2026-11-25T02:15:00-07:00',
      '2026-12-25T12:00:00-07:00',
    ),
    patienceMs: fc.option(fc.integer({ min: 0, max: 90_000 })),
    world: fc.record(
      {
        endpoints: fc.dictionary(fc.constantFrom(...endpoints), behaviour, { maxKeys: 5 }),
        activeCalls: fc.dictionary(fc.constantFrom('ines', 'tomasz', 'ruth'), fc.integer({ min: 0, max: 3 })),
        trunkUse: fc.dictionary(fc.constant('ferry-terminal'), fc.integer({ min: 0, max: 5 })),
        presses: fc.dictionary(
          fc.constantFrom('offer', 'main'),
          fc.record({ key: fc.constantFrom('0', '1', '2', '7'), afterMs: ms }),
        ),
      },
      { requiredKeys: [] },
    ),
  },
  { requiredKeys: ['from', 'to', 'at'] },
);

describe('whatever the call', () => {
  const index = compileEstate(worked);
  test('times are whole and in order, one leg connects if and only if the call does, and nothing outlives it', () => {
    fc.assert(
      fc.property(anyCall, (some) => {
        const { outcome, legs, events } = runCall(index, some);
        const connected = legs.filter((leg) => leg.end === 'connected');
        expect(connected).toHaveLength(
          outcome.kind === 'answered' || outcome.kind === 'carrier-voicemail' ? 1 : 0,
        );
        let dialled = 0;
        for (const leg of legs) {
          expect(leg.dialledMs).toBeGreaterThanOrEqual(dialled);
          dialled = leg.dialledMs;
          expect(leg.endMs).toBeLessThanOrEqual(outcome.atMs);
          expect(leg.alertMs ?? leg.dialledMs).toBeGreaterThanOrEqual(leg.dialledMs);
          expect(leg.alertMs ?? leg.endMs).toBeLessThanOrEqual(leg.endMs);
        }
        expect(Number.isInteger(outcome.atMs)).toBe(true);
        expect(events.map((e) => e.atMs)).toEqual([...events.map((e) => e.atMs)].sort((a, b) => a - b));
      }),
      { numRuns: 1500 },
    );
  });
  test('a caller who waits no longer hears the same until then', () => {
    fc.assert(
      fc.property(anyCall, fc.integer({ min: 1, max: 60_000 }), (some, patienceMs) => {
        const { patienceMs: _any, ...patient } = some;
        const whole = runCall(index, patient).outcome;
        const cut = runCall(index, { ...patient, patienceMs }).outcome;
        expect(cut).toEqual(whole.atMs < patienceMs ? whole : { kind: 'abandoned', atMs: patienceMs });
      }),
      { numRuns: 500 },
    );
  });
  test('the slice of an estate for a person gives the same trace as the whole', () => {
    const finder = finderOf(worked);
    const slices = new Map(worked.people.map((p) => [p.id, compileEstate(sliceFor(worked, finder, p.id))]));
    fc.assert(
      fc.property(anyCall, fc.constantFrom(...worked.people), (some, person) => {
        const to = person.lines[0]!.extension;
        const { events: _a, ...inSlice } = runCall(slices.get(person.id)!, { ...some, to });
        const { events: _b, ...inWhole } = runCall(index, { ...some, to });
        expect(inSlice).toEqual(inWhole);
      }),
      { numRuns: 400 },
    );
  });
});
