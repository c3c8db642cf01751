import type { DeskPage, OwnDesks, PersonDesk, SittingPage } from '../../api/desks';
import type { Desk, Estate } from '../../core/estate';
import { openDb } from '../db';
import { estateStore } from '../estate';
import type { Services } from '../http';
import { noSwitchboard } from '../switchboard/switchboard';
import { demoEstate, testServer, type TestServer } from '../test';
import { workKilledAt } from '../test/killed';
import { openSignOns, signOnsIn } from './queries';
import { signOn, type Wanted } from './sign-on';
import { noteCalls, signOffDue } from './sweep';

const HOUR = 3_600_000;
/** A Tuesday, 10:00 in Vancouver. */
const BEGAN = Date.parse('2026-11-24T18:00:00Z');
let clock = BEGAN;
const inCalls = new Set<string>();
const phones = { ...noSwitchboard, inCalls: () => inCalls };

const demo = demoEstate();
/** Two at the early shift, whose shared desk is their first phone; and somebody without one. */
const agents = demo.people.filter(
  ({ template, endpoints }) =>
    template === 'agents-early' && endpoints.some(({ kind }) => kind === 'hot-desk'),
);
const [ada, ben] = agents as [Estate['people'][number], Estate['people'][number]];
const set = (n: number, more: Partial<Desk>): Desk => ({ ...demo.desks![n]!, ...more });
const bare = (desk: Desk): Desk => {
  const { allowed: _all, taken: _asks, ...rest } = desk;
  return rest;
};
const estate: Estate = {
  ...demo,
  // The first of the estate is whoever is signed in as staff.
  people: [ada, ...demo.people.filter((person) => person !== ada)],
  desks: [
    bare(set(0, {})),
    { ...bare(set(1, {})), taken: 'ask' },
    { ...bare(set(2, {})), taken: 'take-over' },
    { ...bare(set(3, {})), credential: 'page', signOff: { atShiftEnd: false, afterIdleS: 1800 } },
    { ...bare(set(4, {})), credential: 'code-and-pin', allowed: { people: [ada.id] } },
    { ...bare(set(5, {})), credential: 'badge', signOff: { atShiftEnd: false, dailyAt: '20:00' } },
  ],
};
const [D1, D2, D3, D4, D5, D6] = estate.desks!.map(({ id }) => id) as [
  string,
  string,
  string,
  string,
  string,
  string,
];

let server: TestServer;
beforeAll(async () => {
  server = await testServer(
    estate,
    () => phones,
    () => new Date(clock),
  );
});
afterAll(() => server.stop());
beforeEach(async () => {
  clock = BEGAN;
  inCalls.clear();
  await server.db.query('DELETE FROM desk_sign_on');
});

const ask = (
  method: string,
  path: string,
  body?: unknown,
  as: 'specialist' | 'help-desk' | 'manager' | 'staff' = 'help-desk',
) => server.ask(method, path, { as, body });
const on = (desk: string, person: string, confirmed?: boolean) =>
  ask('POST', `/api/desks/${desk}/sign-on`, { person, ...(confirmed ? { confirmed } : {}) });
const off = (desk: string) => ask('POST', `/api/desks/${desk}/sign-off`, {});
const sitting = async (at?: string) =>
  (await ask('GET', `/api/desks/sitting${at ? `?at=${encodeURIComponent(at)}` : ''}`, undefined, 'manager'))
    .body as SittingPage;
const who = (page: SittingPage) =>
  Object.fromEntries(page.desks.flatMap(({ id, sitting: here }) => (here ? [[id, here.person]] : [])));
const endings = async (person: string) =>
  ((await ask('GET', `/api/people/${person}/desk`)).body as PersonDesk).before.map(({ desk, why }) => [
    desk,
    why,
  ]);
/** Another server on the same database, with a clock of its own reading. */
function another(): Pick<Services, 'db' | 'store' | 'now' | 'phones'> & {
  readonly end: () => Promise<void>;
} {
  const db = openDb(server.config);
  return { db, store: estateStore(db), now: () => new Date(clock), phones, end: () => db.end() };
}
const wanted = (desk: string, person: string): Wanted => ({
  desk,
  person,
  how: 'by-specialist',
  credential: 'right',
  confirmed: false,
  who: 'a test',
});

test('signed on, shown, signed on elsewhere, signed off: with who, where, how and why', async () => {
  expect((await on(D1, ada.id)).status).toBe(200);
  expect(who(await sitting())).toEqual({ [D1]: ada.id });
  clock += 60_000;
  expect((await on(D3, ada.id)).status).toBe(200);
  expect(who(await sitting())).toEqual({ [D3]: ada.id });
  expect((await off(D3)).status).toBe(204);
  expect(who(await sitting())).toEqual({});
  expect((await off(D3)).status).toBe(409);
  expect(await endings(ada.id)).toEqual([
    [D3, 'signed off by the specialist'],
    [D1, 'signed on at another desk'],
  ]);
  const { entries } = (await ask('GET', `/api/record?person=${ada.id}`, undefined, 'specialist')).body;
  expect((entries as { kind: string }[]).slice(0, 4).map(({ kind }) => kind)).toEqual([
    'desk-sign-off',
    'desk-sign-on',
    'desk-sign-off',
    'desk-sign-on',
  ]);
});

test('a taken desk refuses, asks or is taken over, as it is set', async () => {
  for (const desk of [D1, D2, D3]) {
    await on(desk, ben.id);
    const first = await on(desk, ada.id);
    const second = await on(desk, ada.id, true);
    expect([
      desk,
      first.status,
      first.body.why ?? null,
      first.body.mayConfirm ?? null,
      second.status,
    ]).toEqual(
      desk === D1
        ? [D1, 409, 'taken', false, 409]
        : desk === D2
          ? [D2, 409, 'taken', true, 200]
          : [D3, 200, null, null, 200],
    );
    if (desk !== D1) expect((await endings(ben.id))[0]).toEqual([desk, 'the desk was taken over']);
  }
});

test('who may not is told why, and nothing is written', async () => {
  const noHotDesk = demo.people.find(({ endpoints }) => endpoints.every(({ kind }) => kind !== 'hot-desk'))!;
  const why = async (desk: string, person: string) => {
    const { status, body } = await on(desk, person);
    return [status, body.why ?? body.message];
  };
  expect(await why('gone', ada.id)).toEqual([404, 'no-such-desk']);
  expect(await why(D1, 'gone')).toEqual([404, 'no-such-person']);
  expect(await why(D1, noHotDesk.id)).toEqual([409, 'no-hot-desk']);
  expect(await why(D5, ben.id)).toEqual([409, 'not-allowed']);
  inCalls.add(`desk/${D1}`);
  expect(await why(D1, ada.id)).toEqual([409, 'in-call']);
  expect((await ask('POST', `/api/desks/${D1}/sign-on`, { person: ada.id }, 'manager')).status).toBe(403);
  expect((await ask('POST', `/api/desks/${D1}/sign-on`, { who: ada.id })).status).toBe(400);
  expect(await openSignOns(server.db)).toEqual([]);
});

test('forty at one desk at the same instant, over two servers: one sits there; one person at every desk sits at one', async () => {
  const servers = [another(), another()];
  const some = agents.slice(0, 20);
  const all = await Promise.allSettled(
    servers.flatMap((each) => some.map(({ id }) => signOn(each, wanted(D1, id)))),
  );
  const done = all.flatMap((each) =>
    each.status === 'fulfilled' && each.value.ok ? [each.value.person.id] : [],
  );
  expect(new Set(done).size).toBe(1);
  expect((await openSignOns(server.db)).map(({ person }) => person)).toEqual([done[0]]);
  await server.db.query('DELETE FROM desk_sign_on');
  await Promise.allSettled(
    servers.flatMap((each) => [D1, D2, D3, D4, D6].map((desk) => signOn(each, wanted(desk, ada.id)))),
  );
  expect((await openSignOns(server.db)).map(({ person }) => person)).toEqual([ada.id]);
  await Promise.all(servers.map(({ end }) => end()));
});

test('at the end of the shift and the grace after it, once whichever server looks, with the moment it was due', async () => {
  await on(D1, ada.id);
  // The early shift ends at 14:00 in Vancouver, and a quarter of an hour is allowed.
  const due = (await sitting()).desks[0]!.until!;
  const dueMs = Date.parse(due);
  expect(dueMs).toBeGreaterThan(BEGAN);
  const servers = [another(), another()];
  clock = dueMs - 1;
  expect(await signOffDue(servers[0]!)).toBe(0);
  // Nobody looked for an hour.
  clock = dueMs + HOUR;
  const done = await Promise.all([...servers, ...servers].map((each) => signOffDue(each)));
  expect(done.reduce((sum, n) => sum + n, 0)).toBe(1);
  await Promise.all(servers.map(({ end }) => end()));
  const [ended] = await signOnsIn(server.db, { desk: D1 }, new Date(BEGAN - HOUR), new Date(clock), 10);
  expect([ended?.why, ended?.endedAt?.getTime()]).toEqual(['shift-end', dueMs]);
  const { entries } = (await ask('GET', '/api/record?kind=desk-sign-off', undefined, 'specialist')).body;
  expect((entries as { detail: string }[]).filter(({ detail }) => detail.endsWith('shift-end'))).toHaveLength(
    1,
  );
});

test('never in a call; idle by what is done at the phone; daily by the clock of the site', async () => {
  const own = another();
  const hot = ada.endpoints.find(({ kind }) => kind === 'hot-desk')!.id;
  await on(D4, ada.id);
  clock = BEGAN + 0.4 * HOUR;
  await noteCalls(own, [hot]);
  clock = BEGAN + 0.8 * HOUR;
  expect(await signOffDue(own)).toBe(0);
  inCalls.add(hot);
  clock = BEGAN + 2 * HOUR;
  expect(await signOffDue(own)).toBe(0);
  expect((await off(D4)).body.message).toBe('This phone is in a call. Try again when it has ended.');
  inCalls.clear();
  expect(await signOffDue(own)).toBe(1);
  expect((await endings(ada.id))[0]).toEqual([D4, 'the phone was not used']);
  clock = BEGAN;
  await on(D6, ben.id);
  clock = Date.parse('2026-11-25T03:00:00Z') - 1;
  expect(await signOffDue(own)).toBe(0);
  clock += 1;
  expect(await signOffDue(own)).toBe(1);
  expect((await endings(ben.id))[0]).toEqual([D6, 'at the daily time']);
  await own.end();
});

test('who leaves, and whose desk goes, is signed off', async () => {
  await on(D1, ada.id);
  await on(D2, ben.id);
  const { body } = await ask('GET', `/api/objects/desk/${D2}`, undefined, 'specialist');
  expect(body.object.id).toBe(D2);
  expect((await ask('DELETE', `/api/objects/desk/${D2}`, undefined, 'specialist')).status).toBe(204);
  const left = (estate.promises ?? []).flatMap(({ promise }) =>
    promise.kind === 'no-leaver' ? [promise.status] : [],
  );
  expect(left).not.toEqual([]);
  await ask('PUT', `/api/people/${ada.id}/status`, { status: left[0] });
  const own = another();
  expect(await signOffDue(own)).toBe(2);
  await own.end();
  expect((await endings(ada.id))[0]).toEqual([D1, 'left the organisation']);
  expect((await endings(ben.id))[0]).toEqual(
    ['A desk that is gone', 'the phone is gone'].map((each, n) => (n ? each : D2)),
  );
  await ask('PUT', `/api/people/${ada.id}/status`, { status: ada.status });
  await ask('PUT', `/api/objects/desk/${D2}`, { version: null, object: body.object }, 'specialist');
});

test('who sat where at a past moment is known; of one to come, who is rostered', async () => {
  await on(D1, ada.id);
  clock += HOUR;
  await off(D1);
  const then = await sitting(new Date(BEGAN + HOUR / 2).toISOString());
  expect([then.when, who(then)]).toEqual(['past', { [D1]: ada.id }]);
  expect(who(await sitting(new Date(BEGAN - HOUR).toISOString()))).toEqual({});
  const next = await sitting('2026-11-26T10:00:00-08:00');
  expect(next.when).toBe('to-come');
  const early = next.rostered.flatMap(({ people }) => people.map(({ id }) => id));
  expect(early).toContain(ada.id);
  expect(new Set(early).size).toBe(agents.length);
  expect((await ask('GET', '/api/desks/sitting?at=soon')).status).toBe(400);
  const page = (await ask('GET', `/api/desks/${D1}/page`)).body as DeskPage;
  expect([page.desk.sitting, page.sittings.map(({ person }) => person)]).toEqual([null, [ada.id]]);
});

test('from the own page: a free desk by what it asks for, and off again', async () => {
  const own = async () => (await ask('GET', '/api/own/desks', undefined, 'staff')).body as OwnDesks;
  await on(D1, ben.id);
  await on(D2, agents[2]!.id);
  const offered = (await own()).free.map(({ id, asks, takenBy }) => [id, asks, takenBy]);
  expect([...offered].sort()).toEqual([
    [D2, 'pin', agents[2]!.name],
    [D3, 'pin', null],
    [D4, 'nothing', null],
    [D5, 'code-and-pin', null],
    [D6, 'pin', null],
  ]);
  const mine = (desk: string, body: object) => ask('POST', `/api/own/desks/${desk}/sign-on`, body, 'staff');
  expect((await mine(D4, {})).status).toBe(200);
  expect((await own()).now?.desk).toBe(D4);
  expect((await mine(D3, {})).body.faults).toEqual([{ path: 'pin', message: 'is missing' }]);
  await ask('POST', `/api/people/${ada.id}/pin`, { pin: '480263' }, 'specialist');
  expect((await mine(D3, { pin: '111111' })).body.why).toBe('wrong-credential');
  const { code } = (await ask('GET', `/api/desks/${D5}/page`)).body as DeskPage;
  expect(code).toMatch(/^\d{4}$/);
  expect(
    ((await ask('GET', `/api/desks/${D5}/page`, undefined, 'manager')).body as DeskPage).code,
  ).toBeNull();
  const wrong = code === '0000' ? '0001' : '0000';
  expect((await mine(D5, { pin: '480263', code: wrong })).body.why).toBe('wrong-credential');
  expect((await mine(D5, { pin: '480263', code })).status).toBe(200);
  clock += 24 * HOUR;
  expect(((await ask('GET', `/api/desks/${D5}/page`)).body as DeskPage).code).not.toBe(code);
  expect((await ask('POST', '/api/own/desks/sign-off', {}, 'staff')).status).toBe(204);
  expect((await own()).now).toBeNull();
  expect((await ask('POST', '/api/own/desks/sign-off', {}, 'staff')).status).toBe(409);
});

test('a badge is one person’s, and only a mark of it is kept', async () => {
  const put = (person: string, digits: string | null) =>
    ask('PUT', `/api/people/${person}/badge`, { digits }, 'specialist');
  expect((await put(ada.id, '12')).status).toBe(400);
  expect((await put(ada.id, '90210445')).status).toBe(204);
  expect((await put(ben.id, '90210445')).body.message).toBe('Somebody else has this badge.');
  const badge = async () => ((await ask('GET', `/api/people/${ada.id}/desk`)).body as PersonDesk).badgeSetAt;
  expect(await badge()).not.toBeNull();
  const [rows] = await server.db.query('SELECT HEX(mark) AS mark FROM badge');
  expect(JSON.stringify(rows)).not.toContain(Buffer.from('90210445').toString('hex').toUpperCase());
  expect((await put(ada.id, null)).status).toBe(204);
  expect(await badge()).toBeNull();
});

test('killed at whichever statement, both sign-on and its record are there, or neither', async () => {
  const count = async () => {
    const [[row]] = (await server.db.query(
      "SELECT (SELECT COUNT(*) FROM desk_sign_on) AS rows_, (SELECT COUNT(*) FROM record_entry WHERE kind IN ('desk-sign-on', 'desk-sign-off')) AS told",
    )) as unknown as [[{ rows_: number; told: number }]];
    return [Number(row.rows_), Number(row.told)] as const;
  };
  await on(D2, ben.id);
  const before = await count();
  let points = 0;
  for (let at = 1; at < 30; at += 1) {
    await workKilledAt(
      server.config,
      ['sign-on', JSON.stringify({ ...wanted(D2, ada.id), confirmed: true })],
      at,
      new Date(clock),
    );
    const after = await count();
    if (after[0] === before[0]) {
      expect(after).toEqual(before);
      points += 1;
      continue;
    }
    // One is over, one began: two lines in the record.
    expect(after).toEqual([before[0] + 1, before[1] + 2]);
    break;
  }
  expect(points).toBeGreaterThan(2);
  expect((await openSignOns(server.db)).map(({ person }) => person)).toEqual([ada.id]);
});

test('a change of shift: hundreds sign on within a moment, each once', async () => {
  const many = 300;
  const servers = [another(), another()];
  const shift: Estate = {
    ...estate,
    people: Array.from({ length: many }, (_each, n) => ({
      ...ada,
      id: `p${n}`,
      lines: [],
      endpoints: [{ id: `p${n}-hot`, label: 'Shared desk', kind: 'hot-desk' as const }],
    })),
    devices: Array.from({ length: many }, (_each, n) => ({ id: `v${n}`, name: `v${n}`, model: 'gannet-20' })),
    desks: Array.from({ length: many }, (_each, n) => ({ id: `k${n}`, name: `k${n}`, device: `v${n}` })),
  };
  const live = await servers[0]!.store.current();
  const people = new Map(shift.people.map((person) => [person.id, person]));
  const store = {
    ...servers[0]!.store,
    current: () =>
      Promise.resolve({
        ...live,
        estate: shift,
        finder: { ...live.finder, person: (id: string) => people.get(id) },
      }),
  };
  const done = await Promise.all(
    shift.people.map(({ id }, n) => signOn({ ...servers[n % 2]!, store }, wanted(`k${n}`, id))),
  );
  expect(done.filter(({ ok }) => ok)).toHaveLength(many);
  expect(await openSignOns(server.db)).toHaveLength(many);
  await Promise.all(servers.map(({ end }) => end()));
});
