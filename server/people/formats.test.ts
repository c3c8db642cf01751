import { testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const read = (script: string) =>
  server.ask('POST', '/api/people/ines/script', { as: 'specialist', body: { script } });
const cpl = (body: string) => `<cpl xmlns="urn:ietf:params:xml:ns:cpl"><incoming>${body}</incoming></cpl>`;

test('a script is read with everybody’s extensions, and comes with what its calls can come to', async () => {
  const { status, body } = await read(cpl('<location url="sip:4103@phones.invalid"><proxy/></location>'));
  expect(status).toBe(200);
  expect(body.plan).toMatchObject({ rules: [], otherwise: { ending: { kind: 'person' } } });
  const { person } = body.plan.otherwise.ending;
  expect(body.slice.people.map((each: { id: string }) => each.id)).toEqual(
    expect.arrayContaining(['ines', person]),
  );
});
test.each([
  ['a document type', '<!DOCTYPE cpl><cpl/>', 'line 1'],
  ['another kind of document', '<html/>', 'line 1'],
  ['nothing', undefined, 'script'],
])('%s is refused at its line', async (_what, script, path) => {
  const answer = await server.ask('POST', '/api/people/ines/script', { as: 'specialist', body: { script } });
  expect(answer).toMatchObject({ status: 400, body: { faults: [{ path }] } });
});
test('everybody’s numbers as vCards, for specialists alone', async () => {
  const cards = await server.ask('GET', '/api/cards', { as: 'specialist' });
  expect(cards.headers.get('content-type')).toContain('text/vcard');
  expect(cards.text.match(/BEGIN:VCARD/g)).toHaveLength(120);
  expect(cards.text).toContain('FN:Ines Okafor');
  expect((await server.ask('GET', '/api/cards', { as: 'manager' })).status).toBe(403);
});
