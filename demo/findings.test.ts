import fc from 'fast-check';
import { audit, checkContext } from '../core/assurance/checks';
import { followed, turned, turns } from '../core/tests/turns';
import { skerrowSoundFerries } from './skerrow';

const NOW = Date.parse('2026-11-24T18:00:00Z');

test('in the whole organisation too what is found after changes of people is what is found anew', () => {
  const estate = skerrowSoundFerries();
  fc.assert(
    fc.property(turns, (all) => {
      const later = turned(estate, all);
      expect(followed(estate, later, NOW)).toEqual(later.map((each) => audit(checkContext(each, NOW))));
    }),
    { numRuns: 6 },
  );
});
