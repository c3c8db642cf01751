import { workedEstate } from '../tests/worked';
import {
  departures,
  fillTemplate,
  personOfTemplate,
  startFrom,
  startFromColleague,
  templatePlan,
} from './template';
import { placeWords, readEstate, type Endpoint, type Person, type Plan } from '../estate';

const phone = (id: string, kind: Endpoint['kind'], number?: string): Endpoint => ({
  id,
  label: id,
  kind,
  ...(number === undefined ? {} : { number }),
});
const someone = (id: string, endpoints: readonly Endpoint[], plan: Plan): Person => ({
  id,
  name: id,
  status: 'in',
  permission: 'all',
  maxCalls: 1,
  lines: [{ id: `${id}-1`, extension: '4101', numbers: [] }],
  endpoints,
  plan,
});
const own = { kind: 'mailbox' } as const;
const ANNA = someone(
  'anna',
  [
    phone('a-desk', 'desk'),
    phone('a-mobile', 'mobile', '+17785550101'),
    phone('a-second', 'mobile', '+17785550102'),
  ],
  {
    rules: [
      {
        id: 'r-1',
        name: 'On the first line',
        when: { line: ['anna-1'], status: ['in'] },
        stages: [
          { ring: [{ endpoint: 'a-second', unlessRegistered: 'a-desk', acceptAfterMs: 2300 }], forMs: 9000 },
          {
            offer: {
              greetingMs: 1000,
              waitMs: 4000,
              choices: [
                { key: '1', then: 'next' },
                { key: '2', then: { kind: 'endpoint', endpoint: 'a-mobile' } },
              ],
            },
          },
          { code: { digits: '11', withinMs: 3000, wrong: { kind: 'endpoint', endpoint: 'a-second' } } },
        ],
        ending: { kind: 'mailbox', person: 'anna' },
        busy: { kind: 'queue', maxMs: 5000, then: { kind: 'endpoint', endpoint: 'a-desk' } },
      },
    ],
    otherwise: {
      stages: [{ ring: [{ endpoint: 'a-desk' }, { endpoint: 'ben-desk' }], forMs: 20_000 }],
      ending: { kind: 'person', person: 'ben' },
    },
  },
);

test('a person’s plan becomes a template: own phones and lines are places, what others have stays', () => {
  const plan = templatePlan(ANNA);
  expect(plan.rules[0]?.when).toEqual({ line: ['own:line:1'], status: ['in'] });
  expect(plan.rules[0]?.stages).toEqual([
    {
      ring: [{ endpoint: 'own:mobile:2', unlessRegistered: 'own:desk:1', acceptAfterMs: 2300 }],
      forMs: 9000,
    },
    {
      offer: {
        greetingMs: 1000,
        waitMs: 4000,
        choices: [
          { key: '1', then: 'next' },
          { key: '2', then: { kind: 'endpoint', endpoint: 'own:mobile:1' } },
        ],
      },
    },
    { code: { digits: '11', withinMs: 3000, wrong: { kind: 'endpoint', endpoint: 'own:mobile:2' } } },
  ]);
  expect(plan.rules[0]?.ending).toEqual(own);
  expect(plan.rules[0]?.busy).toEqual({
    kind: 'queue',
    maxMs: 5000,
    then: { kind: 'endpoint', endpoint: 'own:desk:1' },
  });
  expect(plan.otherwise.stages).toEqual([
    { ring: [{ endpoint: 'own:desk:1' }, { endpoint: 'ben-desk' }], forMs: 20_000 },
  ]);
  expect(JSON.stringify(plan)).not.toContain('"a-');
});

test('filled for the same person it is the same plan again', () => {
  const plan = templatePlan(ANNA);
  const filled = fillTemplate(plan, ANNA);
  expect(filled.left).toEqual([]);
  expect(templatePlan({ ...ANNA, plan: filled.plan })).toEqual(plan);
});

test('what a person has no place for is left out, and said', () => {
  const carl = {
    ...someone('carl', [phone('c-mobile', 'mobile', '+17785550103')], ANNA.plan),
    lines: [{ id: 'c-1', extension: '4103', numbers: [] }],
  };
  const { plan, left } = fillTemplate(templatePlan(ANNA), carl);
  // The stage in which nothing is left to ring is gone; the ending at a second mobile is the own mailbox.
  expect(plan.rules[0]?.stages.map((stage) => Object.keys(stage)[0])).toEqual(['offer', 'code']);
  expect(plan.rules[0]?.stages[1]).toMatchObject({ code: { wrong: own } });
  expect(plan.rules[0]?.when.line).toEqual(['c-1']);
  expect(plan.otherwise.stages).toEqual([{ ring: [{ endpoint: 'ben-desk' }], forMs: 20_000 }]);
  expect(left).toEqual([
    { what: 'target', place: 'own:mobile:2', rule: 'On the first line' },
    { what: 'ending', place: 'own:mobile:2', rule: 'On the first line' },
    { what: 'ending', place: 'own:desk:1', rule: 'On the first line' },
    { what: 'target', place: 'own:desk:1', rule: null },
  ]);
  const noLine = fillTemplate(templatePlan(ANNA), { ...carl, lines: [] });
  expect(noLine.plan.rules).toEqual([]);
  expect(noLine.left[0]).toEqual({ what: 'rule', place: 'own:line:1', rule: 'On the first line' });
});

test('a condition on a phone that is not there falls away', () => {
  const plan: Plan = {
    rules: [],
    otherwise: {
      stages: [{ ring: [{ endpoint: 'own:mobile:1', whileRegistered: 'own:desk:1' }], forMs: 5000 }],
      ending: own,
    },
  };
  const carl = someone('carl', [phone('c-mobile', 'mobile', '+17785550103')], plan);
  const filled = fillTemplate(plan, carl);
  expect(filled.plan.otherwise.stages).toEqual([{ ring: [{ endpoint: 'c-mobile' }], forMs: 5000 }]);
  expect(filled.left).toEqual([{ what: 'condition', place: 'own:desk:1', rule: null }]);
});

test('departures: none after starting from it, then each setting that was changed', () => {
  const template = { id: 'crew', name: 'Crew', plan: templatePlan(ANNA) };
  const ben = startFrom(
    someone('ben', [phone('b-desk', 'desk'), phone('b-mobile', 'mobile', '+17785550104')], ANNA.plan),
    template,
  );
  expect(ben.template).toBe('crew');
  expect(departures(template, ben)).toEqual([]);
  const changed: Person = {
    ...ben,
    plan: { ...ben.plan, otherwise: { ...ben.plan.otherwise, ending: own } },
  };
  expect(departures(template, changed).map(({ path }) => path)).toEqual([
    'otherwise.ending.kind',
    'otherwise.ending.person',
  ]);
});

test('from a colleague: their plan with one’s own phones, and their template', () => {
  const ben = someone('ben', [phone('b-desk', 'desk')], {
    rules: [],
    otherwise: { stages: [], ending: own },
  });
  const after = startFromColleague({ ...ben, template: 'old' }, { ...ANNA, template: 'crew' });
  expect(after.template).toBe('crew');
  expect(after.plan.otherwise.stages[0]).toMatchObject({
    ring: [{ endpoint: 'b-desk' }, { endpoint: 'ben-desk' }],
  });
  expect(startFromColleague({ ...ben, template: 'old' }, ANNA)).not.toHaveProperty('template');
});

test('somebody of the template has every phone that it asks for', () => {
  const template = { id: 'crew', name: 'Crew', plan: templatePlan(ANNA) };
  const person = personOfTemplate(template, { status: 'in', permission: 'all', maxCalls: 1 });
  expect(person.endpoints.map(({ id }) => id)).toEqual(['own:desk:1', 'own:mobile:1', 'own:mobile:2']);
  expect(person.endpoints.at(-1)?.label).toBe('Second mobile');
  expect(placeWords('own:mobile-app:1')).toBe('softphone on a mobile');
});

describe('in the estate file', () => {
  const estate = workedEstate();
  const plan: Plan = {
    rules: [],
    otherwise: { stages: [{ ring: [{ endpoint: 'own:mobile:1' }], forMs: 5000 }], ending: own },
  };
  const withTemplates = (templates: unknown) => readEstate({ ...estate, templates });
  test('places are known there, and only there', () => {
    expect(withTemplates([{ id: 't', name: 'T', plan }])).toMatchObject({ ok: true });
    const first = estate.people[0]!;
    expect(readEstate({ ...estate, people: [{ ...first, plan }, ...estate.people.slice(1)] })).toMatchObject({
      ok: false,
      faults: [{ path: 'people[0].plan.otherwise.stages[0].ring[0].endpoint' }],
    });
  });
  test.each([
    [
      [
        { id: 't', name: 'T', plan },
        { id: 't', name: 'U', plan },
      ],
      'templates[1].id',
    ],
    [
      [
        {
          id: 't',
          name: 'T',
          plan: { ...plan, otherwise: { stages: [], ending: { kind: 'group', group: 'x' } } },
        },
      ],
      'templates[0].plan.otherwise.ending.group',
    ],
    [[{ id: 't', name: '', plan }], 'templates[0].name'],
  ])('a fault has its path', (templates, path) => {
    expect(withTemplates(templates)).toMatchObject({ ok: false, faults: [{ path }] });
  });
  test('a person who follows a template that is not there is a fault', () => {
    const first = estate.people[0]!;
    const people = [{ ...first, template: 'gone' }, ...estate.people.slice(1)];
    expect(readEstate({ ...estate, people })).toMatchObject({
      ok: false,
      faults: [{ path: 'people[0].template' }],
    });
  });
});
