import type { Person } from '../../core/estate';
import { testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const ask = (method: string, path: string, body?: unknown) =>
  server.ask(method, path, { as: 'specialist', ...(body === undefined ? {} : { body }) });
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
    await ask('POST', '/api/templates/deck-crew/preview', { people: ['mateo', 'ines', 'owen'] })
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
    (await ask('POST', `/api/templates/${template}/preview`, { people: [id] })).body.rows as {
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

test('applied to several at once, and all of it taken back', async () => {
  const chosen = await Promise.all(
    ['mateo', 'ines'].map(async (id) => ({ id, version: (await person(id)).version })),
  );
  const before = await Promise.all(chosen.map(({ id }) => person(id)));
  const applied = await ask('PUT', '/api/templates/deck-crew/people', { people: chosen });
  expect(applied).toMatchObject({ status: 200, body: { changed: 2 } });
  expect((await person('mateo')).person).toMatchObject({ template: 'deck-crew' });
  const again = await ask('POST', '/api/templates/deck-crew/preview', { people: ['mateo', 'ines'] });
  expect(
    again.body.rows.map((row: { changes: number; follows: boolean }) => [row.changes, row.follows]),
  ).toEqual([
    [0, true],
    [0, true],
  ]);
  const undone = await ask('POST', '/api/record/undo', { entries: applied.body.entries });
  expect(undone).toMatchObject({ status: 200, body: { people: 2 } });
  for (const { person: was } of before) expect((await person(was.id)).person).toEqual(was);
  const twice = await ask('POST', '/api/record/undo', { entries: applied.body.entries });
  expect(twice.status).toBe(409);
  expect(twice.body.message).toContain('was changed again since');
});

test('one of them changed since the preview: nothing is written for any', async () => {
  const ines = await person('ines');
  const mateo = await person('mateo');
  const answer = await ask('PUT', '/api/templates/deck-crew/people', {
    people: [
      { id: 'ines', version: ines.version },
      { id: 'mateo', version: mateo.version + 1 },
    ],
  });
  expect(answer.status).toBe(409);
  expect(answer.body.message).toContain('Mateo Sundqvist');
  expect(await person('ines')).toEqual(ines);
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

test.each([
  ['a template that is not there', 'POST', '/api/templates/none/preview', { people: [] }, 404],
  ['somebody who is not there', 'POST', '/api/templates/season/preview', { people: ['nobody'] }, 400],
  ['a body without people', 'PUT', '/api/templates/season/people', {}, 400],
  ['an entry that is not there', 'POST', '/api/record/undo', { entries: [987654] }, 400],
  ['no entries', 'POST', '/api/record/undo', { entries: [] }, 400],
])('%s is refused', async (_what, method, path, body, status) => {
  expect((await ask(method, path, body)).status).toBe(status);
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
