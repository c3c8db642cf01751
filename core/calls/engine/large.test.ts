import { readEstate, type Estate, type Rule } from '../../estate';
import { workedEstate } from '../../tests/worked';
import { describeTreatment, plain } from '../views/describe';
import { compileEstate } from './compile';
import { quickRunner } from '../outcome';
import { runCall } from './run';
import { tryCall } from '../views';

/** A plan of ten thousand rules, of which only the last but one fits. */
function withManyRules(count: number): Estate {
  const estate = workedEstate();
  const ines = estate.people.find(({ id }) => id === 'ines')!;
  const rules = Array.from({ length: count }, (_, i): Rule => ({
    id: `r-${i}`,
    name: `Rule ${i}`,
    when: { caller: { class: 'listed', numbers: [i === count - 2 ? '+1604' : `+4420${i}`] } },
    stages: [],
    ending: { kind: 'hang-up', message: `rule ${i}` },
  }));
  const person = { ...ines, plan: { ...ines.plan, rules } };
  return { ...estate, people: estate.people.map((each) => (each.id === 'ines' ? person : each)) };
}

test('ten thousand rules are read, run by both engines alike, drawn and described', () => {
  const count = 10_000;
  const estate = withManyRules(count);
  expect(readEstate(estate)).toMatchObject({ ok: true });
  const index = compileEstate(estate);
  const call = { from: '+16045550199', to: '4101', at: '2026-11-24T10:00:00-07:00' };
  const { outcome, path } = runCall(index, call);
  expect(path[0]).toMatchObject({ rule: `r-${count - 2}` });
  expect(outcome).toMatchObject({ kind: 'hung-up' });
  expect(quickRunner(index).outcomeOf(call)).toEqual(outcome);
  expect(tryCall(index, call, 'ines')?.strip.ending).toContain(`rule ${count - 2}`);
  const last = estate.people.find(({ id }) => id === 'ines')!.plan.rules.at(-1)!;
  expect(plain(describeTreatment(index, last, 'ines'))).toContain('at once');
});
