import { finderOf, sliceFor } from '../core/editing';
import { provePromises } from '../core/assurance/promises';
import { skerrowSoundFerries } from './skerrow';

test('what is left out because it was gone through in another way changes no verdict', () => {
  const estate = skerrowSoundFerries();
  const finder = finderOf(estate);
  const some = [
    'basil-wetherell',
    'tomasz',
    'priya',
    'ines',
    'noor',
    'amara',
    'mateo',
    'owen',
    'ruth',
    'callum',
  ];
  const promises = [
    ...(estate.promises ?? []).map(({ promise }) => promise),
    { kind: 'no-silence', longestMs: 8000 } as const,
    { kind: 'one-lost' } as const,
    { kind: 'rings-within', withinMs: 6000 } as const,
    { kind: 'only-inside', schedule: 'office' } as const,
  ];
  let held = 0;
  let broke = 0;
  for (const id of some) {
    const slice = sliceFor(estate, finder, id);
    const scope = { spread: 0, fromMs: Date.parse('2026-11-23T08:00:00Z'), everyStatus: true };
    const proved = provePromises(slice, id, promises, scope);
    const checked = provePromises(slice, id, promises, { ...scope, everything: true });
    expect([id, proved.complete, checked.complete]).toEqual([id, true, true]);
    expect(proved.cases).toBeLessThanOrEqual(checked.cases);
    const verdictsOf = (run: typeof proved) =>
      run.proofs.map(({ promise, holds }) => [id, promise.kind, holds]);
    expect(verdictsOf(proved)).toEqual(verdictsOf(checked));
    held += proved.proofs.filter(({ holds }) => holds).length;
    broke += proved.proofs.filter(({ holds }) => !holds).length;
  }
  expect(Math.min(held, broke)).toBeGreaterThan(10);
});
