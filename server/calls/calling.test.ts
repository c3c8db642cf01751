import type { CallingPage } from '../../api/calls';
import { demoEstate, PLACE, testServer, type TestServer } from '../test';
import type { CallBackNow } from '../switchboard';
import { noSwitchboard } from '../switchboard/none';
import type { CallBack } from '../../standins/system';

let server: TestServer;
const placed: CallBack[] = [];
let isOver = false;
beforeAll(async () => {
  server = await testServer(demoEstate(), () => ({
    ...noSwitchboard,
    place: () => PLACE,
    callBack: (order) => {
      placed.push(order);
      return true;
    },
    callsBack: (person): readonly CallBackNow[] =>
      placed
        .filter((order) => order.person === person)
        .map((order) => ({ order, at: { step: 'rings-you', why: null }, overMs: isOver ? 1 : null })),
  }));
});
afterAll(() => server.stop());

const as = 'staff' as const;
const me = demoEstate().people[0]!;
const mobile = me.endpoints.find(({ kind }) => kind === 'mobile')!;
const back = (body: object) => server.ask('POST', '/api/me/call-back', { as, body });

test('a number is read as the dial plan has it, and the ways to call it come with what they show', async () => {
  const { body } = await server.ask('GET', `/api/me/calling?number=${encodeURIComponent('604 555-0199')}`, {
    as,
  });
  const page = body as CallingPage;
  expect(page.number).toBe('+16045550199');
  expect(page.ways.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['call-back', 'mobile']));
  expect(page.ways.find(({ kind }) => kind === 'mobile')?.shows).toBe(mobile.number);
  for (const [number, says] of [
    ['911', 'emergency'],
    [demoEstate().people[1]!.lines[0]!.extension, 'extension'],
    ['not a number', 'no number'],
  ] as const) {
    const answer = await server.ask('GET', `/api/me/calling?number=${encodeURIComponent(number)}`, { as });
    expect([answer.status, JSON.stringify(answer.body)]).toEqual([400, expect.stringContaining(says)]);
  }
  expect((await server.ask('GET', '/api/me/calling', { as: 'specialist' })).status).toBe(403);
});

test('a call back goes to a phone of one’s own alone, and both of its numbers are judged first', async () => {
  const foreign = demoEstate().people[3]!.endpoints.find(({ number }) => number !== undefined)!;
  for (const body of [
    { number: '+16045550199', phone: foreign.id },
    { number: '+16045550199', phone: 'ines-desk' },
    { number: '+19005550199', phone: mobile.id },
    { number: '911', phone: mobile.id },
    { number: '', phone: mobile.id },
    { number: '+16045550199' },
    { number: '+16045550199', phone: mobile.id, as: 'somebody else' },
  ])
    expect((await back(body)).status).toBe(400);
  expect(placed).toEqual([]);
  expect((await back({ number: '604 555 0199', phone: mobile.id })).status).toBe(202);
  expect(placed).toMatchObject([
    {
      person: me.id,
      mobile: mobile.number,
      number: '+16045550199',
      callerId: me.lines[0]!.numbers[0],
      extension: me.lines[0]!.extension,
      isWithheld: false,
    },
  ]);
  expect((await back({ number: '604 555 0199', phone: mobile.id, withhold: true })).status).toBe(202);
  expect(placed.at(-1)?.isWithheld).toBe(true);
  const { entries } = (await server.ask('GET', '/api/record', { as: 'specialist' })).body as {
    entries: { kind: string }[];
  };
  expect(entries[0]?.kind).toBe('called-back');
});

test('three at a time, and sixty a day, however many ask at once', async () => {
  placed.length = 0;
  for (let n = 0; n < 3; n += 1) await back({ number: '+16045550199', phone: mobile.id });
  expect((await back({ number: '+16045550199', phone: mobile.id })).status).toBe(429);
  placed.length = 0;
  const atOnce = await Promise.all(
    Array.from({ length: 32 }, () => back({ number: '+16045550199', phone: mobile.id })),
  );
  expect(atOnce.filter(({ status }) => status === 202)).toHaveLength(3);
  isOver = true;
  // One by one, each ended before the next: the sixty-first of the day is refused.
  const until = async (n: number): Promise<number> =>
    (await back({ number: '+16045550199', phone: mobile.id })).status === 202 && n < 70 ? until(n + 1) : n;
  expect((await until(0)) + 8).toBe(60);
  const last = await back({ number: '+16045550199', phone: mobile.id });
  expect([last.status, JSON.stringify(last.body)]).toEqual([429, expect.stringContaining('60 times today')]);
});
