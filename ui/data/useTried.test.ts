import fc from 'fast-check';
import { finderOf, sliceFor } from '../../core/editing';
import { judgeOf, provePromises } from '../../core/assurance/promises';
import { compileEstate, runInDetail } from '../../core/calls/engine';
import { wholeEstate, WHOLE_PROMISES } from '../../core/tests/whole';
import { momentOf } from './moment';
import { callAt } from './useTried';

const FROM = Date.parse('2026-11-23T08:00:00Z');

test('a call that breaks a promise breaks it still when it is shown on the person’s page', () => {
  let shown = 0;
  let beyondFirstLine = 0;
  fc.sample(wholeEstate, { numRuns: 60, seed: 7 }).forEach((estate, n) => {
    const person = estate.people[n % estate.people.length]!;
    const index = compileEstate(estate);
    const slice = sliceFor(estate, finderOf(estate), person.id);
    const { proofs } = provePromises(slice, person.id, WHOLE_PROMISES, {
      spread: 0,
      fromMs: FROM,
      everyStatus: false,
      mostRuns: 2000,
    });
    for (const { promise, broken } of proofs) {
      if (!broken) continue;
      const call = callAt(momentOf(broken.call, person, broken.status), person, estate, FROM)!;
      const why = judgeOf(promise, index, person)(call, runInDetail(index, call, false));
      expect([why?.(), call]).toEqual([broken.why, call]);
      shown += 1;
      if (call.to !== person.lines[0]!.extension || call.world?.groupLast || call.world?.idleMs)
        beyondFirstLine += 1;
    }
  });
  expect(shown).toBeGreaterThan(60);
  expect(beyondFirstLine).toBeGreaterThan(0);
});
