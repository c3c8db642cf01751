import fc from 'fast-check';
import { readEstate } from '../../estate';
import { compileEstate, runCall, type Outcome } from '../engine';
import { quickRunner } from './quick';
import { workedCalls, workedEstate } from '../../tests/worked';
import * as random from '../tests/random';

const RUNS = Number(process.env.HOSTLER_RUNS ?? 1500);

test('random estates have no faults, so that what is tested is what can be', () => {
  fc.assert(
    fc.property(random.estate, (estate) => {
      expect(readEstate(estate)).toMatchObject({ ok: true });
    }),
    { numRuns: 100 },
  );
});

test('the quick engine gives the outcome of the traced one, whatever the estate and the call', () => {
  const kinds = new Set<Outcome['kind']>();
  fc.assert(
    fc.property(random.estate, fc.array(random.call, { minLength: 8, maxLength: 8 }), (estate, calls) => {
      const index = compileEstate(estate);
      const quick = quickRunner(index);
      for (const call of calls) {
        const { outcome } = runCall(index, call);
        kinds.add(outcome.kind);
        expect({ call, outcome: quick.outcomeOf(call) }).toEqual({ call, outcome });
      }
    }),
    { numRuns: RUNS },
  );
  expect(kinds.size).toBe(9);
});

test('the quick engine gives the outcome of every worked call', () => {
  const index = compileEstate(workedEstate());
  const quick = quickRunner(index);
  for (const { call, expect: expected } of workedCalls())
    expect(quick.outcomeOf(call)).toEqual(expected.outcome);
});
