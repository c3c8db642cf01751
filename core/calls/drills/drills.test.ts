import { runCall, compileEstate, type Call } from '../engine';
import type { Person } from '../../estate';
import { personOf, ringing, smallEstate } from '../../tests/small';
import { drillOf } from './keep';
import { readDrills } from './schema';
import { runDrill, runDrills } from './run';
import type { Drill } from './types';

const both = (id: string) => ({
  otherwise: ringing([
    { endpoint: `${id}-desk` },
    { endpoint: `${id}-mobile`, acceptAfterMs: 3000, giveUpAfterMs: 18_000 },
  ]),
});
const crew = (person: Person): Person => ({ ...person, template: 'crew' });
const estate = smallEstate(
  [crew(personOf('ada', 1, both('ada'))), crew(personOf('ben', 2, both('ben'))), personOf('cleo', 3, {})],
  { templates: [{ id: 'crew', name: 'Crew', plan: { rules: [], otherwise: ringing([]) } }] },
);
const index = compileEstate(estate);
const ada = estate.people[0]!;
const call: Call = {
  from: '+12505550199',
  to: '4101',
  at: '2026-11-24T14:00:00-07:00',
  world: { endpoints: { 'ada-mobile': { answerAfterMs: 3000 } } },
};
const kept = (standsFor: Drill['standsFor']) =>
  drillOf({ id: 'd', name: 'At the mobile', standsFor }, call, runCall(index, call).outcome, ada, null);

describe('drills', () => {
  test('a try that is kept holds, and fails once the plan does something else', () => {
    const drill = kept({ person: 'ada' });
    expect(runDrill(index, drill)).toMatchObject([
      { ok: true, for: { id: 'ada' }, says: "Answered at Ada's mobile after 8.2 s." },
    ]);
    const changed = compileEstate({
      ...estate,
      people: [{ ...ada, plan: personOf('ada', 1, {}).plan }, ...estate.people.slice(1)],
    });
    expect(runDrill(changed, drill)).toMatchObject([
      {
        ok: false,
        says: "Expected: answered at Ada's mobile, within 10.2 s. Voicemail for Ada after 20 s.",
      },
    ]);
  });

  test('a drill of a template runs for each who follows it, at each one’s own phone', () => {
    const drill = kept({ template: 'crew' });
    expect(Object.keys(drill.call.world!.endpoints!)).toEqual(['own:mobile:1']);
    expect(drill.expect).toMatchObject({ person: 'own', endpoint: 'own:mobile:1' });
    const results = runDrill(index, drill);
    expect(results.map((each) => [each.for.id, each.ok, each.outcome])).toEqual([
      ['ada', true, expect.objectContaining({ endpoint: 'ada-mobile' })],
      ['ben', true, expect.objectContaining({ endpoint: 'ben-mobile' })],
    ]);
  });

  test('a status can be part of it; whose drill has nobody fails, but for a template', () => {
    const onLeave = {
      id: 'l',
      name: 'L',
      when: { status: ['leave'] },
      stages: [],
      ending: { kind: 'hang-up', message: '' },
    } as const;
    const withRule = compileEstate({
      ...estate,
      people: [{ ...ada, plan: { ...ada.plan, rules: [onLeave] } }, ...estate.people.slice(1)],
    });
    const drill: Drill = { ...kept({ person: 'ada' }), status: 'leave', expect: { kind: 'hung-up' } };
    expect(runDrills(withRule, [drill])).toMatchObject([{ ok: true }]);
    expect(runDrills(index, [drill])).toMatchObject([{ ok: false }]);
    expect(runDrills(index, [{ ...drill, standsFor: { person: 'zoe' } }])).toMatchObject([
      { ok: false, call: null },
    ]);
    expect(runDrills(index, [{ ...drill, standsFor: { template: 'none' } }])).toMatchObject([
      { ok: true, call: null },
    ]);
  });

  test.each([
    [{ format: 'x', drills: [] }, 'format'],
    [
      { format: 'hostler-drills/1', drills: [{ ...kept({ person: 'ada' }), expect: { kind: 'rung' } }] },
      'drills[0].expect.kind',
    ],
    [
      { format: 'hostler-drills/1', drills: [{ ...kept({ person: 'ada' }), standsFor: {} }] },
      'drills[0].standsFor',
    ],
    [
      { format: 'hostler-drills/1', drills: [{ ...kept({ person: 'ada' }), call: { at: 'now' } }] },
      'drills[0].call.at',
    ],
    [{ format: 'hostler-drills/1', drills: [kept({ person: 'ada' }), kept({ group: 'x' })] }, 'drills[1].id'],
    [
      {
        format: 'hostler-drills/1',
        drills: [{ ...kept({ person: 'ada' }), expect: { kind: 'answered', fromMs: 9, byMs: 3 } }],
      },
      'drills[0].expect.byMs',
    ],
  ])('what is not right in a file is told with its path (%#)', (file, path) => {
    const read = readDrills(file);
    expect(read.ok ? [] : read.faults.map((fault) => fault.path)).toContain(path);
  });

  test('a right file is read', () => {
    const drills = [kept({ template: 'crew' })];
    expect(readDrills({ format: 'hostler-drills/1', drills })).toEqual({ ok: true, drills });
  });
});
