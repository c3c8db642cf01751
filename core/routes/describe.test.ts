import { namesIn, sayRoute } from './describe';
import type { Route } from '../estate';

const names = namesIn(
  {
    peers: [
      { id: 'desk', name: 'Desk system', expects: 'dialled' },
      { id: 'cloud', name: 'Cloud', expects: 'e164' },
      { id: 'spare', name: 'Spare', expects: 'e164' },
    ],
  },
  [{ id: 'two', name: 'Two phones' }],
  [{ id: 'office', name: 'Office hours' }],
);
const say = (when: Route['when'], then: Route['then']) =>
  sayRoute({ id: 'r', name: 'R', enabled: true, when, then }, names);

test('a route reads as a sentence', () => {
  expect(say({}, { send: { peer: 'cloud' } })).toBe('All calls go to Cloud.');
  expect(
    say(
      { from: ['desk'], dialled: { prefixes: ['9011'] } },
      { rewrite: { rewrite: { drop: 4, prepend: '+' } } },
    ),
  ).toBe(
    'Calls from Desk system to numbers beginning with 9011 go on below without the first 4 characters and with + before.',
  );
  expect(
    say(
      { list: { id: 'two', of: 'dialled' }, schedule: { id: 'office', inside: false } },
      {
        fork: {
          branches: [
            { peer: 'desk', rewrite: { drop: 1, prepend: '' } },
            { peer: 'cloud', delayMs: 3000 },
          ],
        },
      },
    ),
  ).toBe(
    'Calls to numbers on the list Two phones outside Office hours ring at Desk system without the first character and at Cloud 3 s later.',
  );
  expect(
    say(
      {
        from: ['desk', 'spare'],
        dialled: { map: '[2-9]xx', minDigits: 3, maxDigits: 3 },
        caller: { prefixes: ['+1'] },
      },
      { send: { peer: 'cloud', orElse: ['spare'], rewrite: { drop: 0, prepend: '+1' } } },
    ),
  ).toBe(
    'Calls from Desk system or Spare to numbers that fit [2-9]xx, of 3 digits by callers beginning with +1 go to Cloud, or else to Spare, with +1 before.',
  );
  expect(say({ dialled: { prefixes: ['+1900'] } }, { refuse: { cause: 403 } })).toBe(
    'Calls to numbers beginning with +1900 are refused: 403, forbidden.',
  );
});
