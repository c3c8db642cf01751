import fc from 'fast-check';
import type { Estate, Person } from '../../estate';
import { wholeEstate } from '../../tests/whole';
import { CASES } from '../../tests/audited';
import { workedEstate } from '../../tests/worked';
import { followed as followedFrom, turned, turns } from '../../tests/turns';
import { audit, auditorOf } from './audit';
import { checkContext } from './context';
import type { Finding } from './types';

const FROM = Date.parse('2026-11-24T18:00:00Z');
const told = (estate: Estate) => audit(checkContext(estate, FROM));
const followed = (first: Estate, later: readonly Estate[]) => followedFrom(first, later, FROM);

test('after changes of people the findings are those of the whole estate', () => {
  const changes = fc
    .tuple(wholeEstate, wholeEstate, fc.nat(), fc.nat())
    .map(([first, other, one, two]): readonly Estate[] => {
      const swap = (estate: Estate, at: number) => ({
        ...estate,
        people: estate.people.map((person, i) => {
          if (i !== at % estate.people.length) return person;
          const found = other.people.find(({ id }) => id === person.id) ?? person;
          return { ...found, lines: person.lines };
        }),
      });
      const second = swap(first, one);
      return [first, second, swap(second, two), first];
    });
  fc.assert(
    fc.property(changes, ([first, ...later]) => {
      expect(followed(first!, later)).toEqual(later.map(told));
    }),
    { numRuns: 40 },
  );
});

test.each(CASES.filter(([, { people }]) => people.length > 0))(
  'whatever is changed of somebody, what is kept of each person adds up to the findings of all: %s',
  (_name, estate) => {
    fc.assert(
      fc.property(turns, (all) => {
        const later = turned(estate, all);
        expect(followed(estate, later)).toEqual(later.map(told));
      }),
      { numRuns: 6 },
    );
  },
);

test('what somebody leaves behind is found at whoever leads to them, and is gone again', () => {
  const estate = workedEstate();
  const ines = estate.people.find(({ id }) => id === 'ines')!;
  const put = (person: Person): Estate => ({
    ...estate,
    people: estate.people.map((each) => (each.id === person.id ? person : each)),
  });
  const silent = put({
    ...ines,
    plan: {
      rules: [],
      otherwise: { stages: [], ending: { kind: 'number', number: '+19005550100' } },
    },
  });
  const [after, again] = followed(estate, [silent, estate]);
  expect(after).toEqual(told(silent));
  expect(after).not.toEqual(told(estate));
  expect(again).toEqual(told(estate));
});

test('whoever reads of somebody by their number, or sends them copies, is told when they change', () => {
  const estate = workedEstate();
  const [ines, tomasz] = ['ines', 'tomasz'].map((id) => estate.people.find((each) => each.id === id)!);
  const put = (from: Estate, person: Person): Estate => ({
    ...from,
    people: from.people.map((each) => (each.id === person.id ? person : each)),
  });
  // Calls of Ines go out to the number that Tomasz has, a leg of hers shows it, and he gets copies of her messages.
  const number = tomasz!.lines[0]!.numbers[0]!;
  const leads = put(estate, {
    ...ines!,
    mailbox: { ...ines!.mailbox!, copyTo: ['tomasz'] },
    plan: {
      rules: [],
      otherwise: {
        stages: [{ ring: [{ endpoint: ines!.endpoints[0]!.id, present: number }], forMs: 20_000 }],
        ending: { kind: 'number', number },
      },
    },
  });
  const named = put(leads, { ...tomasz!, name: 'Tomasz Other', status: 'left' });
  const without = put(named, { ...tomasz!, lines: tomasz!.lines.map((line) => ({ ...line, numbers: [] })) });
  const all = followed(leads, [named, without, leads]);
  expect(all).toEqual([named, without, leads].map(told));
  const ofInes = (findings: readonly Finding[]) =>
    (findings as ReturnType<typeof told>).flatMap(({ check, subject }) =>
      subject.id === 'ines' ? check : [],
    );
  expect(ofInes(all[0]!)).toEqual(expect.arrayContaining(['own-number-outside', 'leads-to-leaver']));
  expect(ofInes(all[1]!)).toContain('shows-foreign-number');
  expect(ofInes(all[1]!)).not.toContain('own-number-outside');
});

test('where more than people is changed all is gone through anew', () => {
  const estate = workedEstate();
  expect(auditorOf(estate, FROM).change({ ...estate, trunks: [] })).toBeNull();
});
