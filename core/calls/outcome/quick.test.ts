import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readEstate, type Estate } from '../../estate';
import { compileEstate, runCall, type Call, type Outcome } from '../engine';
import { quickRunner } from './quick';
import * as random from '../tests/random';

const read = (name: string): unknown =>
  JSON.parse(readFileSync(join(__dirname, '../../golden', name), 'utf8'));
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
  expect(kinds.size).toBe(8);
});

test('the quick engine gives the outcome of every worked call', () => {
  const index = compileEstate(read('estate.json') as Estate);
  const quick = quickRunner(index);
  for (const { call, expect: expected } of read('calls.json') as {
    call: Call;
    expect: { outcome: Outcome };
  }[])
    expect(quick.outcomeOf(call)).toEqual(expected.outcome);
});
