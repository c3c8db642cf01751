import fc from 'fast-check';
import { finderOf, sliceFor } from '../../editing';
import { referenceFaults } from '../../estate';
import { compileEstate, runInDetail } from '../../calls/engine';
import { wholeEstate, WHOLE_PROMISES } from '../../tests/whole';
import { anyCall } from '../../tests/whole-calls';
import { judgeOf } from './judge';
import { provePromises } from './prove';

const FROM = Date.parse('2026-11-23T08:00:00Z');
const ESTATES = 300;
const CALLS = 200;
/**
 * A part of what a real proof may run, so that this does not take long: those not gone through are left out. Some
 * may run more, so that large ones are among those that are.
 */
const mostRuns = (n: number): number => (n % 12 === 0 ? 4000 : 1000);
const SEED = 20261128;

test('what is proved of estates drawn from the whole model holds for calls drawn at random', () => {
  const estates = fc.sample(wholeEstate, { numRuns: ESTATES, seed: SEED });
  const refuted: object[] = [];
  let held = 0;
  let broken = 0;
  let notWhole = 0;
  estates.forEach((estate, n) => {
    expect(referenceFaults(estate)).toEqual([]);
    const { id } = estate.people[n % estate.people.length]!;
    const { proofs, complete } = provePromises(sliceFor(estate, finderOf(estate), id), id, WHOLE_PROMISES, {
      spread: 0,
      fromMs: FROM,
      everyStatus: false,
      mostRuns: mostRuns(n),
    });
    const index = compileEstate(estate);
    const judges = proofs.map((proof) => ({
      ...proof,
      judge: judgeOf(proof.promise, index, index.people.get(id)!),
    }));
    // Each call that is said to break a promise does.
    for (const { broken: breach, judge } of judges)
      if (breach) {
        broken += 1;
        expect(judge(breach.call, runInDetail(index, breach.call, false))?.()).toBe(breach.why);
      }
    if (!complete) {
      notWhole += 1;
      return;
    }
    const holding = judges.filter(({ holds }) => holds);
    held += holding.length;
    for (const call of fc.sample(anyCall(estate, id, FROM), { numRuns: CALLS, seed: SEED + n })) {
      const run = runInDetail(index, call, false);
      for (const { promise, judge } of holding) {
        const why = judge(call, run);
        if (why) refuted.push({ estate: n, person: id, promise: promise.kind, why: why(), call });
      }
    }
  });
  expect(refuted).toEqual([]);
  expect(notWhole / ESTATES).toBeLessThan(0.34);
  // Neither side of a proof is empty.
  expect(held).toBeGreaterThan(ESTATES);
  expect(broken).toBeGreaterThan(ESTATES);
});
