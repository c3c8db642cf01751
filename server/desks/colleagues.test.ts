import type { Colleagues } from '../../api/desks';
import { hotDeskOf } from '../../core/desks';
import { demoEstate, testServer, type TestServer } from '../test';

const demo = demoEstate();
const [ada, ben] = demo.people.filter((person) => hotDeskOf(person) !== null) as [
  (typeof demo.people)[number],
  (typeof demo.people)[number],
];
const free = demo.desks!.filter(({ allowed }) => allowed === undefined).map(({ id }) => id) as [
  string,
  string,
];
let server: TestServer;
beforeAll(async () => {
  // The first of the estate is whoever is signed in as staff.
  server = await testServer({
    ...demo,
    people: [ada, ...demo.people.filter((person) => person !== ada)],
  });
});
afterAll(() => server.stop());
const ask = (method: string, path: string, body?: unknown, as: 'help-desk' | 'staff' = 'staff') =>
  server.ask(method, path, { as, body });
const on = (desk: string, person: string) =>
  ask('POST', `/api/desks/${desk}/sign-on`, { person }, 'help-desk');
const seen = async () => (await ask('GET', '/api/own/colleagues')).body as Colleagues;

test('colleagues see where somebody sits only if they let it be seen', async () => {
  expect((await on(free[0], ben.id)).status).toBe(200);
  // Of Ben nothing is told as long as he has not said so.
  expect(await seen()).toEqual({ mayShow: true, isShown: false, colleagues: [] });
  await server.db.query('INSERT INTO desk_shown (person, since) VALUES (?, ?)', [ben.id, new Date()]);
  expect((await seen()).colleagues).toMatchObject([
    { name: ben.name, desk: demo.desks!.find(({ id }) => id === free[0])!.name },
  ]);
  // Of oneself there is nothing to look up, and whoever is signed off is nowhere.
  await on(free[1], ada.id);
  expect((await seen()).colleagues.map(({ name }) => name)).toEqual([ben.name]);
  await ask('POST', `/api/desks/${free[0]}/sign-off`, {}, 'help-desk');
  expect((await seen()).colleagues).toEqual([]);
});

test('whether one’s own desk is seen is switched by oneself, many times at once, and is in the record once for each', async () => {
  const put = (body: object) => ask('PUT', '/api/own/desk-shown', body);
  const all = await Promise.all(Array.from({ length: 32 }, () => put({ shown: true })));
  expect(new Set(all.map(({ status, body }) => `${status} ${body.isShown}`))).toEqual(new Set(['200 true']));
  expect((await put({ shown: false })).body.isShown).toBe(false);
  expect((await put({})).status).toBe(400);
  expect((await ask('GET', '/api/own/colleagues', undefined, 'help-desk')).status).toBe(403);
});
