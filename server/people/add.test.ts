import type { Role } from '../base';
import { testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const add = (body: object, as: Role = 'specialist') => server.ask('POST', '/api/people', { as, body });
const GIVEN = { name: 'Dalia Wren', status: 'on', permission: 'inside' };

test('what is proposed for somebody new is free, and what there is to choose from is there', async () => {
  const { status, body } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  expect(status).toBe(200);
  const people = (await server.ask('GET', '/api/people', { as: 'specialist' })).body.people as {
    extension: string;
  }[];
  expect(body.extension).toMatch(/^\d{4}$/);
  expect(people.map(({ extension }) => extension)).not.toContain(body.extension);
  expect(body.permissions.length).toBeGreaterThan(1);
  for (const as of ['help-desk', 'manager'] as const)
    expect((await server.ask('GET', '/api/new-person', { as })).status).toBe(403);
});

test('somebody is added, can be called at once, and stands in the record', async () => {
  const { body: proposed } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  const [status, permission] = [proposed.statuses[0].id, proposed.permissions.at(-1).id];
  const answer = await add({
    ...GIVEN,
    status,
    permission,
    extension: proposed.extension,
    mobile: '778 555 0177',
    template: proposed.templates[0].id,
  });
  expect(answer).toMatchObject({ status: 201, body: { id: 'dalia-wren' } });
  const { body: page } = await server.ask('GET', '/api/people/dalia-wren', { as: 'specialist' });
  expect(page.person).toMatchObject({
    name: 'Dalia Wren',
    template: proposed.templates[0].id,
    lines: [{ extension: proposed.extension, numbers: [] }],
    endpoints: [{ kind: 'desk' }, { kind: 'mobile', number: '+17785550177' }],
  });
  const { body: record } = await server.ask('GET', '/api/record?person=dalia-wren', { as: 'specialist' });
  expect(record.entries).toMatchObject([{ kind: 'person-added', who: 'specialist', subject: 'Dalia Wren' }]);
  // The next one is proposed another extension, and a namesake gets an id of their own.
  const { body: next } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  expect(next.extension).not.toBe(proposed.extension);
  const second = await add({ ...GIVEN, status, permission, extension: next.extension });
  expect(second.body.id).toBe(`dalia-wren-${next.extension}`);
});

test.each([
  [{ name: '' }, 'name', /missing/],
  [{ extension: '4101' }, 'extension', /belongs to Ines Okafor already/],
  [{ extension: '12' }, 'extension', /4 digits/],
  [{ direct: '+12505550101' }, 'direct', /belongs to/],
  [{ mobile: 'my mobile' }, 'mobile', /./],
  [{ status: 'gone' }, 'status', /there is no status/],
  [{ permission: 'gone' }, 'permission', /there is no permission/],
  [{ template: 'gone' }, 'template', /not there any more/],
  [{ colleague: 'gone' }, 'colleague', /not there any more/],
])('%j is refused beside its field, and nobody is added', async (wrong, path, message) => {
  const { body: proposed } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  const before = (await server.ask('GET', '/api/people', { as: 'specialist' })).body.people.length as number;
  const answer = await add({
    ...GIVEN,
    status: proposed.statuses[0].id,
    permission: proposed.permissions[0].id,
    extension: proposed.extension,
    ...wrong,
  });
  expect(answer.status).toBe(400);
  expect(answer.body.faults).toMatchObject([{ path, message: expect.stringMatching(message) as string }]);
  expect((await server.ask('GET', '/api/people', { as: 'specialist' })).body.people).toHaveLength(before);
});

test('two who add at the same moment get two people, or one is told that the extension is taken', async () => {
  const { body: proposed } = await server.ask('GET', '/api/new-person', { as: 'specialist' });
  const body = {
    status: proposed.statuses[0].id,
    permission: proposed.permissions[0].id,
    extension: proposed.extension,
  };
  const answers = await Promise.all(
    ['Early Bird', 'Late Bird', 'Third Bird'].map((name) => add({ ...body, name })),
  );
  expect(answers.map(({ status }) => status).sort()).toEqual([201, 400, 400]);
});

test('only specialists add people', async () => {
  for (const as of ['help-desk', 'manager'] as const)
    expect((await add({ ...GIVEN, extension: '4998' }, as)).status).toBe(403);
});
