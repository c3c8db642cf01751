import type { Person } from '../../core/estate';
import { testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const ask = (method: string, path: string, body?: unknown) =>
  server.ask(method, path, { as: 'specialist', ...(body === undefined ? {} : { body }) });
const deckCrew = { kind: 'template', to: 'deck-crew' };
const person = async (id: string) =>
  (await ask('GET', `/api/people/${id}`)).body as { version: number; person: Person };

test('the list counts who follows and who has departed; the followers say in what', async () => {
  const { templates } = (await ask('GET', '/api/templates')).body;
  const deck = templates.find((each: { id: string }) => each.id === 'deck-crew');
  expect(deck).toMatchObject({ name: 'Deck crew', departed: 2 });
  const { people, slice } = (await ask('GET', '/api/templates/deck-crew/people')).body;
  expect(slice.people.map((each: Person) => each.id)).toEqual(
    expect.arrayContaining(people.map((each: { id: string }) => each.id)),
  );
  expect(people).toHaveLength(deck.followers);
  const departed = people.filter((each: { departures: string[] }) => each.departures.length > 0);
  expect(departed.map((each: { departures: string[] }) => each.departures)).toEqual([
    ['otherwise.stages[0].forMs'],
    ['otherwise.stages[0].forMs'],
  ]);
});

test('a template is read with somebody who has its places, so that it can be edited like a plan', async () => {
  const { body } = await ask('GET', '/api/objects/template/deck-crew');
  const somebody = body.slice.people.find((each: Person) => each.id === 'own:deck-crew');
  expect(somebody.plan).toEqual(body.object.plan);
  expect(somebody.endpoints.map((each: { id: string }) => each.id)).toContain('own:mobile-app:1');
});

test('a preview says what would change, what is left out, and how each can then be reached', async () => {
  const { rows } = (
    await ask('POST', '/api/many/look', { people: ['mateo', 'ines', 'owen'], change: deckCrew })
  ).body;
  expect(rows.map((row: { id: string }) => row.id)).toEqual(['mateo', 'ines', 'owen']);
  const [mateo] = rows;
  expect(mateo.changes).toBeGreaterThan(0);
  expect(mateo.left).toContainEqual({
    what: 'target',
    place: 'own:mobile-app:1',
    rule: 'At sea: softphone, then the mobile by key',
  });
  expect(['reached', 'at-risk', 'lost']).toContain(mateo.after);
  const before = await person('mateo');
  expect(before.person.template).toBeUndefined();
});

test('a phone that the template does not ring at some hours is told of, though the person can still be reached', async () => {
  const { body } = await ask('GET', '/api/objects/template/season');
  const rows = async (template: string, id: string) =>
    (await ask('POST', '/api/many/look', { people: [id], change: { kind: 'template', to: template } })).body
      .rows as {
      before: string;
      after: string;
      drops: { label: string; atMs: number | null }[];
    }[];
  // A template that rings nothing but the desk phone, for somebody whose mobile rings.
  const plan = {
    rules: [],
    otherwise: {
      stages: [{ ring: [{ endpoint: 'own:desk:1' }], forMs: 20_000 }],
      ending: { kind: 'mailbox' },
    },
  };
  await ask('PUT', '/api/objects/template/desk-only', {
    version: null,
    object: { ...body.object, id: 'desk-only', name: 'Desk only', plan },
  });
  const [ines] = await rows('desk-only', 'ines');
  expect(ines!.drops).toEqual([expect.objectContaining({ label: 'Mobile' })]);
  expect(ines!.after).not.toBe('lost');
  await ask('DELETE', '/api/objects/template/desk-only');
});

test('one that is followed cannot be removed; a plan of places without an owner cannot be saved', async () => {
  const gone = await ask('DELETE', '/api/objects/template/season');
  expect(gone.status).toBe(409);
  const { body } = await ask('GET', '/api/objects/template/season');
  const object = {
    ...body.object,
    plan: {
      rules: [],
      otherwise: { stages: [{ ring: [{ endpoint: 'nowhere' }], forMs: 1000 }], ending: { kind: 'mailbox' } },
    },
  };
  const put = await ask('PUT', '/api/objects/template/season', { version: body.version, object });
  expect(put.body.faults[0].path).toBe('plan.otherwise.stages[0].ring[0].endpoint');
});

test('a new template, followed by a person, is in the exported estate', async () => {
  const { body } = await ask('GET', '/api/objects/template/season');
  const object = { ...body.object, id: 'winter', name: 'Winter crew' };
  expect((await ask('PUT', '/api/objects/template/winter', { version: null, object })).status).toBe(200);
  const { person: noor, version } = await person('noor');
  const put = await ask('PUT', '/api/people/noor', { version, person: { ...noor, template: 'winter' } });
  expect(put.status).toBe(200);
  const estate = (await ask('GET', '/api/estate')).body;
  expect(estate.templates.at(-1)).toEqual(object);
  expect(estate.people.find((each: Person) => each.id === 'noor').template).toBe('winter');
});
