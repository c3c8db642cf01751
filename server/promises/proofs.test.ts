import { demoEstate, testServer, type TestServer } from '../test';
import { until } from '../../standins/tests/until';

let server: TestServer;
beforeAll(async () => {
  const whole = demoEstate();
  const few = ['ines', 'tomasz', 'ruth', 'noor', 'owen', 'mateo', 'callum', 'saskia', 'hugh'];
  server = await testServer({
    ...whole,
    people: whole.people
      .filter(({ id }) => few.includes(id))
      .map((person) => ({ ...person, mailbox: { ...person.mailbox, copyTo: [] } })),
    groups: [],
    menus: [],
  });
});
afterAll(() => server.stop());

const runAtRest = () =>
  until(async () => {
    const { body } = await server.ask('GET', '/api/proofs', { as: 'manager' });
    return body.run && body.run.state !== 'running' && body;
  }, 100_000);

test('one person: each promise of the organisation with its verdict, and a call that breaks it', async () => {
  const { body } = await server.ask('GET', '/api/people/owen/proofs', { as: 'manager' });
  const broken = body.proofs.filter((proof: { holds: boolean }) => !proof.holds);
  expect(broken.map((proof: { promise: { kind: string } }) => proof.promise.kind)).toContain(
    'no-carrier-voicemail',
  );
  expect(broken[0].broken.call).toMatchObject({ to: '4110' });
  expect(body.complete).toBe(true);
});
test('everybody: goes on by itself, is counted, and names those whose promises are broken', async () => {
  expect((await server.ask('POST', '/api/proofs', { as: 'help-desk' })).status).toBe(202);
  const { run } = await runAtRest();
  expect(run).toMatchObject({ state: 'done', done: 9, total: 9 });
  const names = run.broken.map((each: { name: string }) => each.name);
  expect(names).toEqual(expect.arrayContaining(['Owen Baptiste', 'Mateo Sundqvist', 'Callum Strand']));
});
test('it can be cancelled', async () => {
  await server.ask('POST', '/api/proofs', { as: 'specialist' });
  expect((await server.ask('DELETE', '/api/proofs', { as: 'specialist' })).status).toBe(204);
  expect((await runAtRest()).run.state).toBe('cancelled');
});
test('the week of a person, for those whose browser does not compute it', async () => {
  const { body } = await server.ask('GET', '/api/week?people=owen&circumstance=nobody', { as: 'manager' });
  expect(body.days.map((day: unknown[]) => day.length)).toEqual([48, 48, 48, 48, 48, 48, 48]);
  expect(body.days[1][20].end).toBe('lost');
  expect((await server.ask('GET', '/api/week?people=owen&circumstance=odd', { as: 'manager' })).status).toBe(
    400,
  );
});
