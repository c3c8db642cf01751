import { emptyEstate } from '../../core/editing';
import type { Estate } from '../../core/estate';
import { replaceEstate } from '../estate';
import { workKilledAt } from '../test/killed';
import { demoEstate, testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const specialist = { as: 'specialist' } as const;
const page = async () => (await server.ask('GET', '/api/organisation', specialist)).body;
const file = async () => JSON.parse((await server.ask('GET', '/api/estate', specialist)).text) as Estate;
const send = (path: string, estate: unknown) =>
  server.ask('POST', path, {
    ...specialist,
    body: Buffer.from(typeof estate === 'string' ? estate : JSON.stringify(estate)),
  });

const BEGIN = {
  name: 'Harbour Works',
  country: 'CA',
  timeZone: 'America/Vancouver',
  outsideCode: '9',
  areaCodes: ['250'],
  extensionDigits: 4,
  trunk: { name: 'Main trunk', channels: 10 },
  opens: '08:00',
  closes: '17:00',
};

describe('the organisation’s name and zone', () => {
  test('are set, recorded, and refused where somebody else has set them meanwhile', async () => {
    const { name, timeZone } = await page();
    const before = { name, timeZone };
    const put = (body: object) => server.ask('PUT', '/api/organisation', { ...specialist, body });
    expect((await put({ name: 'Skerrow Lines', timeZone, before })).body).toMatchObject({
      name: 'Skerrow Lines',
    });
    expect((await put({ name: 'Other', timeZone, before })).status).toBe(409);
    const { body: record } = await server.ask('GET', '/api/record', specialist);
    expect(record.entries[0]).toMatchObject({ kind: 'settings-set', who: 'specialist' });
    const wrong = await put({
      name: '',
      timeZone: 'Mars/Olympus',
      before: { name: 'Skerrow Lines', timeZone },
    });
    expect(wrong.body.faults.map(({ path }: { path: string }) => path)).toEqual(['name', 'timeZone']);
    expect((await put({ ...before, before: { name: 'Skerrow Lines', timeZone } })).status).toBe(200);
    const both = await Promise.all(['One', 'Two'].map((other) => put({ name: other, timeZone, before })));
    expect(both.map(({ status }) => status).sort()).toEqual([200, 409]);
    const won = (await page()).name as string;
    expect((await put({ name, timeZone, before: { name: won, timeZone } })).status).toBe(200);
    expect((await server.ask('PUT', '/api/organisation', { as: 'help-desk', body: {} })).status).toBe(403);
  });
});

describe('an estate file', () => {
  test('read in twice at the same moment it is on two slates, and nothing is live', async () => {
    const live = await file();
    const more = { ...live, statuses: [...live.statuses, { id: 'twice', name: 'Twice' }] };
    const answers = await Promise.all([send('/api/estate/import', more), send('/api/estate/import', more)]);
    expect(answers.map(({ status }) => status)).toEqual([201, 201]);
    expect(answers[0]!.body.slate).not.toBe(answers[1]!.body.slate);
    expect(await file()).toEqual(live);
  });
  test('what is live changes nothing; what differs is told by kind and goes on a slate, nothing else is written', async () => {
    const live = await file();
    expect((await send('/api/estate/preview', live)).body).toMatchObject({
      entries: 0,
      kinds: [],
      renamed: false,
    });
    expect((await send('/api/estate/import', live)).status).toBe(409);
    const [first, ...rest] = live.people;
    const changed: Estate = {
      ...live,
      name: 'Another name',
      people: [{ ...first!, name: 'Ines Lund' }, ...rest],
      statuses: [...live.statuses, { id: 'on-the-quay', name: 'On the quay' }],
    };
    const { body: preview } = await send('/api/estate/preview', changed);
    expect(preview).toMatchObject({ renamed: true, entries: 2 });
    expect(preview.kinds).toEqual(
      expect.arrayContaining([
        { kind: 'status', added: ['On the quay'], changed: [], removed: [] },
        { kind: 'person', added: [], changed: [expect.any(String)], removed: [] },
      ]),
    );
    expect(await file()).toEqual(live);
    const { status, body } = await send('/api/estate/import', changed);
    expect(status).toBe(201);
    expect(await file()).toEqual(live);
    const applied = await server.ask('POST', `/api/slates/${body.slate}/apply`, { ...specialist, body: {} });
    expect(applied.status).toBeLessThan(300);
    expect((await file()).statuses.at(-1)).toEqual({ id: 'on-the-quay', name: 'On the quay' });
  });
  test.each([
    ['no JSON', '{'],
    ['no estate', '[]'],
    ['another form', { format: 'hostler-estate/1', people: 7 }],
  ])('%s is refused with where and why, and nothing is written', async (_what, sent) => {
    const before = await file();
    for (const path of ['/api/estate/preview', '/api/estate/import']) {
      const answer = await send(path, sent);
      expect(answer.status).toBe(400);
      expect(answer.body.faults.length).toBeGreaterThan(0);
    }
    expect(await file()).toEqual(before);
  });
  test('one of more than 32 MiB is refused before it is read', async () => {
    expect((await send('/api/estate/preview', 'x'.repeat((32 << 20) + 1))).status).toBe(413);
  });
});

describe('an organisation that begins', () => {
  beforeAll(() => replaceEstate(server.db, emptyEstate(), 'test'));

  test('begins once, also when it is asked four times at the same moment', async () => {
    expect(await page()).toMatchObject({ unbegun: true });
    const wrong = await server.ask('POST', '/api/organisation/begin', {
      ...specialist,
      body: { ...BEGIN, country: 'canada', opens: '8' },
    });
    expect(wrong.body.faults.map(({ path }: { path: string }) => path)).toEqual(
      expect.arrayContaining(['country', 'opens']),
    );
    const answers = await Promise.all(
      Array.from({ length: 4 }, () =>
        server.ask('POST', '/api/organisation/begin', { ...specialist, body: BEGIN }),
      ),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409, 409, 409]);
    expect(await page()).toMatchObject({ name: 'Harbour Works', unbegun: false, counts: { people: 0 } });
  });
  test('killed at whichever statement, it has begun whole or not at all', async () => {
    await replaceEstate(server.db, emptyEstate(), 'test');
    let points = 0;
    for (let at = 1; at < 80; at += 2) {
      await workKilledAt(server.config, ['begin', JSON.stringify(BEGIN)], at);
      const { unbegun, name, counts } = await page();
      expect([unbegun, name, counts.trunks, counts.statuses]).toEqual(
        unbegun ? [true, 'New organisation', 0, 0] : [false, 'Harbour Works', 1, 4],
      );
      if (!unbegun) break;
      points += 1;
    }
    expect(points).toBeGreaterThan(3);
  });
  test('people can be added and imported at once', async () => {
    const { body: proposed } = await server.ask('GET', '/api/new-person', specialist);
    const added = await server.ask('POST', '/api/people', {
      ...specialist,
      body: {
        name: 'Dalia Wren',
        extension: proposed.extension,
        mobile: '778 555 0177',
        status: proposed.statuses[0].id,
        permission: proposed.permissions[0].id,
      },
    });
    expect(added.status).toBe(201);
    const { body: today } = await server.ask('GET', '/api/today', specialist);
    expect(today).toMatchObject({ people: 1, organisation: 'Harbour Works' });
  });
  test('a file is put live at once where nothing was begun', async () => {
    await replaceEstate(server.db, emptyEstate(), 'test');
    const demo = demoEstate();
    expect((await send('/api/estate/import', demo)).body).toEqual({ slate: null });
    expect((await page()).counts.people).toBe(demo.people.length);
  });
});
