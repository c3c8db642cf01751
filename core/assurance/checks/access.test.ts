import { ABROAD, NOW, screenedBy, withAccess } from '../../tests/audited';
import type { Estate } from '../../estate';
import { audit } from './audit';
import { checkContext } from './context';

const said = (estate: Estate, check: string) =>
  audit(checkContext(estate, NOW)).flatMap((each) => (each.check === check ? [each.says] : []));

test('a number alone is enough only where nothing else is asked, and only for whoever may call abroad', () => {
  const check = 'access-by-number-alone';
  expect(said(withAccess({}, ABROAD), check)).toEqual([
    'At Out a number that is shown is enough to call abroad as Ada Test.',
  ]);
  for (const estate of [
    withAccess({ pin: 'always' }, ABROAD),
    withAccess({ onlyVerified: true }, ABROAD),
    withAccess({ knows: false }, ABROAD),
    withAccess({}),
    withAccess({}, { ...ABROAD, endpoints: [] }),
  ])
    expect(said(estate, check)).toEqual([]);
});

test('an access number lets nobody in where nobody can be known and no PIN is asked for', () => {
  const check = 'access-for-nobody';
  expect(said(withAccess({ pin: 'never' }), check)).toEqual([]);
  expect(said(withAccess({ pin: 'never' }, { endpoints: [] }), check)).toEqual([
    'Out lets nobody in: nobody has a mobile or landline to be known by, and no PIN is asked for.',
  ]);
});

test('a number of the organisation is shown where somebody has none', () => {
  const lines = [{ id: 'l-ada', extension: '4101', numbers: [] }];
  const estate = withAccess({}, { lines });
  expect(said(estate, 'nothing-to-show')).toHaveLength(1);
  expect(said({ ...estate, settings: { number: '+12505550100' } }, 'nothing-to-show')).toEqual([]);
});

test('what a carrier does with numbers it does not let show is told for own numbers and for those of callers', () => {
  const check = 'number-screened';
  expect(said(screenedBy(['+1250'], 'replaces'), check)).toEqual([
    'The carrier of Quay shows another number than the caller’s: the phone outside of Ada Test would not see who calls.',
  ]);
  const own = { present: '+12505550101' };
  expect(said(screenedBy(['+1250'], 'replaces', own), check)).toEqual([]);
  expect(said(screenedBy(['+1604'], 'refuses', own), check)).toEqual([
    'The carrier of Quay refuses calls that show +1 250 555 0101 (Ada Test).',
  ]);
});
