import { compileEstate, runCall, type Call } from '../calls/engine';
import { faultsOf, templateSchema, type Person } from '../estate';
import { workedEstate } from '../tests/worked';
import { sayTemplateKind, TEMPLATE_KINDS, usualPlan } from './template-kinds';
import { startFrom } from './template';

test('“shared desk or mobile” rings the desk of whoever is signed on, and else the mobile', () => {
  const worked = workedEstate();
  const ines = worked.people.find(({ id }) => id === 'ines')!;
  const person: Person = {
    ...ines,
    endpoints: [
      ...ines.endpoints.filter(({ kind }) => kind !== 'hot-desk'),
      { id: 'ines-hot', label: 'Shared desk', kind: 'hot-desk' },
    ],
  };
  const plan = usualPlan('shared-desk-or-mobile');
  const started = startFrom(person, { id: 't', plan });
  const index = compileEstate({
    ...worked,
    people: worked.people.map((each) => (each.id === 'ines' ? started : each)),
  });
  const rung = (isOn: boolean) => {
    const call: Call = {
      from: '+16045550199',
      to: ines.lines[0]!.extension,
      at: '2026-11-24T14:20:00-07:00',
      world: { endpoints: { 'ines-hot': { state: isOn ? 'ready' : 'unregistered' } } },
    };
    return runCall(index, call).legs.flatMap(({ endpoint, alertMs }) => (alertMs === null ? [] : [endpoint]));
  };
  expect(rung(true)).toEqual(['ines-hot']);
  expect(rung(false)).toEqual(['ines-mobile']);
  for (const kind of TEMPLATE_KINDS) {
    expect(faultsOf(templateSchema, { id: 't', name: sayTemplateKind(kind), plan: usualPlan(kind) })).toEqual(
      [],
    );
  }
});
