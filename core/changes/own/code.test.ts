import { personOf, ringing, smallEstate } from '../../tests/small';
import { twinningByCode } from './code';
import { USUAL_LIMITS } from './limits';

const NOW = Date.parse('2026-11-25T18:00:00Z');
const both = personOf('ada', 1, {
  otherwise: ringing([{ endpoint: 'ada-desk' }, { endpoint: 'ada-mobile' }]),
});
const bare = personOf('ben', 2, {}, { endpoints: [{ id: 'ben-desk', label: 'Desk phone', kind: 'desk' }] });
const estate = smallEstate([both, bare]);
const by = (person = both, limits = USUAL_LIMITS, typed?: string) =>
  twinningByCode(estate, person, limits, typed, NOW);

test('off where a mobile rings, on where none does', () => {
  const off = by();
  expect(off).toMatchObject({ kind: 'switch', on: false, judged: { may: 'now' } });
  if (off.kind !== 'switch' || off.judged.may === 'not') throw new Error('not switched');
  const then = by(off.judged.after);
  expect(then).toMatchObject({ kind: 'switch', on: true, judged: { may: 'now' } });
  if (then.kind !== 'switch' || then.judged.may === 'not') throw new Error('not switched');
  const rings = (person: typeof both) =>
    person.plan.otherwise.stages.flatMap((stage) =>
      'ring' in stage ? stage.ring.map(({ endpoint, enabled }) => `${endpoint} ${enabled !== false}`) : [],
    );
  expect(rings(off.judged.after)).toEqual(['ada-desk true', 'ada-mobile false']);
  expect(rings(then.judged.after)).toEqual(['ada-desk true', 'ada-mobile true']);
});

test('what the person may not do themselves is asked for', () => {
  expect(by(both, { ...USUAL_LIMITS, twinning: false })).toMatchObject({ judged: { may: 'ask' } });
  expect(by(bare, { ...USUAL_LIMITS, numbers: [] }, '2505550177')).toMatchObject({ judged: { may: 'ask' } });
});

test('without a mobile its number is asked for, then it rings with the first stage', () => {
  expect(by(bare)).toEqual({ kind: 'ask-number' });
  const added = by(bare, USUAL_LIMITS, '2505550177');
  expect(added).toMatchObject({ kind: 'add', number: '+1 250 555 0177', judged: { may: 'now' } });
  if (added.kind !== 'add' || added.judged.may === 'not') throw new Error('not added');
  expect(added.judged.after.endpoints.at(-1)).toMatchObject({ kind: 'mobile', number: '+12505550177' });
  expect(JSON.stringify(added.judged.after.plan.otherwise)).toContain(
    added.judged.after.endpoints.at(-1)!.id,
  );
});

test('digits that are no number are told; whether a number is somebody’s private one is not', () => {
  expect(by(bare, USUAL_LIMITS, '12')).toMatchObject({ kind: 'not' });
  const theirs = both.endpoints.find(({ kind }) => kind === 'mobile')!.number!;
  const nobodys = theirs.replace(/\d\d$/, '97');
  const verdict = (number: string) => {
    const wanted = by(bare, USUAL_LIMITS, number);
    return [wanted.kind, 'judged' in wanted && wanted.judged.may];
  };
  expect(verdict(theirs)).toEqual(verdict(nobodys));
});
