import { readSlate } from './queries';
import { testServer, type TestServer } from '../test';
import { workKilledAt } from '../test/killed';
import { slateTools } from '../test/slates';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());
const { newSlate, current, put } = slateTools(() => server);

describe('the server killed while it puts a slate live', () => {
  test('at whichever statement it ends, all of the slate is live or nothing is', async () => {
    const revision = async () => {
      const [[row]] = (await server.db.query('SELECT revision FROM organisation')) as unknown as [
        [{ revision: number }],
      ];
      return row.revision;
    };
    const people = ['amara', 'saskia', 'callum'];
    const slate = await newSlate('Killed');
    for (const id of people) await put(slate, id, (p) => ({ ...p, maxCalls: p.maxCalls + 1 }));
    const before = {
      revision: await revision(),
      calls: await Promise.all(people.map(async (id) => (await current(id)).maxCalls)),
    };
    let points = 0;
    for (let at = 1; ; at += 3) {
      await workKilledAt(server.config, ['slate', String(slate)], at);
      const state = (await readSlate(server.db, slate))?.state;
      const calls = await Promise.all(people.map(async (id) => (await current(id)).maxCalls));
      if (state === 'applied') {
        expect(calls).toEqual(before.calls.map((n) => n + 1));
        break;
      }
      points += 1;
      expect([state, calls, await revision()]).toEqual(['work', before.calls, before.revision]);
    }
    expect(points).toBeGreaterThan(4);
  });
});
