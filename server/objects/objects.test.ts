import type { Group } from '../../core/estate';
import { testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const put = (path: string, body: unknown) => server.ask('PUT', path, { as: 'specialist', body });
const get = (path: string) => server.ask('GET', path, { as: 'specialist' });

describe('groups, menus, schedules and statuses', () => {
  test('one is read with what its calls can come to, changed, and stays so', async () => {
    const { body } = await get('/api/objects/group/bookings');
    expect(body.slice.people.map((p: { id: string }) => p.id)).toEqual(
      expect.arrayContaining(['ruth', 'ines', 'noor', 'tomasz']),
    );
    const object: Group = { ...body.object, mode: 'circular' };
    const answer = await put('/api/objects/group/bookings', { version: body.version, object });
    expect(answer).toMatchObject({ status: 200, body: { object: { mode: 'circular' } } });
    expect((await get('/api/objects/group/bookings')).body).toMatchObject({
      version: body.version + 1,
      object: { mode: 'circular' },
    });
  });
  test('the second of two who change one is shown the other’s', async () => {
    const { body } = await get('/api/objects/status/away');
    expect(
      (await put('/api/objects/status/away', { version: body.version, object: { id: 'away', name: 'Out' } }))
        .status,
    ).toBe(200);
    const second = await put('/api/objects/status/away', {
      version: body.version,
      object: { id: 'away', name: 'Off' },
    });
    expect(second).toMatchObject({ status: 409, body: { theirs: { object: { name: 'Out' } } } });
  });
  test('a new one is added at the end, and can be removed while nothing needs it', async () => {
    const object = { id: 'dry-dock', name: 'In dry dock' };
    expect((await put('/api/objects/status/dry-dock', { version: null, object })).status).toBe(200);
    const all = (await get('/api/objects/status')).body.objects as { id: string }[];
    expect(all.at(-1)).toEqual(object);
    expect((await server.ask('DELETE', '/api/objects/status/dry-dock', { as: 'specialist' })).status).toBe(
      204,
    );
    expect((await get('/api/objects/status/dry-dock')).status).toBe(404);
  });
  test('what is still used stays, and it is said by whom', async () => {
    const answer = await server.ask('DELETE', '/api/objects/schedule/office', { as: 'specialist' });
    expect(answer.status).toBe(409);
    expect(answer.body.faults.map((f: { message: string }) => f.message)).toEqual(
      expect.arrayContaining([expect.stringContaining('Ines Okafor')]),
    );
  });
  test.each([
    ['group', 'bookings', (g: Group) => ({ ...g, ringMs: 0 }), 'ringMs'],
    ['group', 'bookings', (g: Group) => ({ ...g, extension: '4101' }), 'extension'],
    ['group', 'bookings', (g: Group) => ({ ...g, members: [{ person: 'nobody' }] }), 'members[0].person'],
    ['group', 'bookings', (g: Group) => ({ ...g, id: 'other' }), 'id'],
    ['group', 'bookings', () => 'no group', ''],
  ])('a fault in a %s is told at its field: %#', async (kind, id, change, path) => {
    const { body } = await get(`/api/objects/${kind}/${id}`);
    const answer = await put(`/api/objects/${kind}/${id}`, {
      version: body.version,
      object: change(body.object as Group),
    });
    expect(answer.status).toBe(400);
    expect(answer.body.faults[0].path).toBe(path);
  });
});

describe('what a number does', () => {
  const flow = (number: string, query = '') =>
    server.ask('GET', `/api/numbers/${encodeURIComponent(number)}${query}`, { as: 'manager' });
  test.each([
    ['4000', '4000'],
    ['(250) 555-0100', '+12505550100'],
    ['9 250 555 0100', '+12505550100'],
  ])('%s is read as %s and leads into the menu', async (typed, number) => {
    expect((await flow(typed)).body).toMatchObject({ number, flow: { kind: 'menu', id: 'main' } });
  });
  test('at another moment other ways are open', async () => {
    const open = async (at: string) => {
      const { body } = await flow('4000', `?at=${Date.parse(at)}`);
      return body.flow.branches.map((branch: { isOpen: boolean }) => branch.isOpen);
    };
    expect(await open('2026-11-24T10:00:00-07:00')).toEqual([true, false]);
    expect(await open('2026-11-24T23:00:00-07:00')).toEqual([false, true]);
  });
  test('a number that is not the organisation’s is told as such', async () => {
    expect(await flow('+44 20 7946 0000')).toMatchObject({ status: 404 });
  });
});

describe('cover', () => {
  const cover = (body: unknown, as: 'specialist' | 'help-desk' = 'help-desk') =>
    server.ask('PUT', '/api/people/amara/cover', { as, body });
  const lines = async () => (await get('/api/people/amara')).body.person.lines;
  test('all calls go elsewhere until a time, and what was before comes back when it ends', async () => {
    const before = await lines();
    const ending = { kind: 'person', person: 'ruth' };
    const until = '2026-11-24T17:00:00-07:00';
    expect((await cover({ ending, until })).status).toBe(200);
    expect(await lines()).toEqual([
      { ...before[0], forwardAll: ending, forwardUntil: until, forwardAfter: before[0].forwardAll },
      { ...before[1], forwardAll: ending, forwardUntil: until, forwardAfter: null },
    ]);
    const exported = await get('/api/estate');
    expect(exported.body.people.find((p: { id: string }) => p.id === 'amara').lines[0].forwardUntil).toBe(
      until,
    );
    expect((await cover({ ending: null })).status).toBe(200);
    expect(await lines()).toEqual(before);
  });
  test('without an end it stays until it is ended', async () => {
    const ending = { kind: 'person', person: 'ruth' };
    expect((await cover({ ending })).status).toBe(200);
    expect((await lines()).every((line: { forwardUntil?: string }) => line.forwardUntil === undefined)).toBe(
      true,
    );
    expect((await lines())[0].forwardAll).toEqual(ending);
    expect((await cover({ ending: null })).status).toBe(200);
    expect((await lines())[0].forwardAll).toBeUndefined();
  });
  test('a time that has passed, and a place that is none, are refused', async () => {
    const past = await cover({ ending: { kind: 'mailbox' }, until: '2026-11-24T09:00:00-07:00' });
    expect(past.body.faults).toEqual([{ path: 'until', message: 'must be a time to come' }]);
    const nobody = await cover({
      ending: { kind: 'person', person: 'nobody' },
      until: '2026-11-24T17:00:00-07:00',
    });
    expect(nobody.status).toBe(400);
    expect(nobody.body.faults[0].path).toBe('person.lines[0].forwardAll.person');
  });
});

describe('times and codes of the organisation', () => {
  test('are set as a whole, and stay', async () => {
    const { settings: before } = (await get('/api/settings')).body;
    const settings = { hopLimit: 5, move: { heldMs: 30_000 } };
    expect(await put('/api/settings', { settings, before })).toMatchObject({
      status: 200,
      body: { settings },
    });
    expect((await get('/api/settings')).body).toEqual({ settings });
    expect((await get('/api/people/ines')).body.slice.settings).toEqual(settings);
  });
  test.each([
    [{ settings: { hopLimit: -1 }, before: {} }, 'settings.hopLimit'],
    [{ settings: { move: { toDesk: '*2' } }, before: {} }, 'settings.move'],
    [{ settings: { colour: 'red' }, before: {} }, 'settings.colour'],
    [{ before: {} }, 'settings'],
    [{ settings: {} }, 'before'],
  ])('%j is refused at its field', async (body, path) => {
    const before = (await get('/api/settings')).body;
    const answer = await put('/api/settings', body);
    expect(answer).toMatchObject({ status: 400, body: { faults: [{ path }] } });
    expect((await get('/api/settings')).body).toEqual(before);
  });
  test('of two who set them, and the promises, the later one sees the other side; nothing is lost', async () => {
    const { settings: before } = (await get('/api/settings')).body;
    const { promises = [] } = (await get('/api/people/ines')).body.slice;
    const more = [...promises, { id: 'two', promise: { kind: 'may-dial' } }];
    for (const [path, one, other, read] of [
      ['/api/settings', { settings: { hopLimit: 6 } }, { settings: { hopLimit: 7 } }, before],
      ['/api/promises', { promises: more }, { promises: [] }, promises],
    ] as const) {
      const answers = await Promise.all([
        put(path, { ...one, before: read }),
        put(path, { ...other, before: read }),
      ]);
      expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
      const [won, lost] = answers[0].status === 200 ? [0, 1] : [1, 0];
      expect(answers[lost]!.body.theirs).toEqual(Object.values([one, other][won]!)[0]);
    }
  });
});

describe('at the same moment', () => {
  const revision = async () =>
    (
      (await server.db.query('SELECT revision FROM organisation')) as unknown as [[{ revision: number }]]
    )[0][0].revision;
  test('a group and a menu are both written, and each answer holds what it wrote', async () => {
    for (let n = 0; n < 5; n += 1) {
      const kinds = [
        ['group', 'bookings'],
        ['menu', (await get('/api/objects/menu')).body.objects[0].id],
      ] as const;
      const reading = Promise.all(Array.from({ length: 8 }, () => get('/api/people')));
      const answers = await Promise.all(
        kinds.map(async ([kind, id]) => {
          const { object, version } = (await get(`/api/objects/${kind}/${id}`)).body;
          const name = `${object.name.split(' #')[0]} #${n}`;
          const answer = await put(`/api/objects/${kind}/${id}`, { version, object: { ...object, name } });
          expect(answer.body.object).toMatchObject({ name });
          return answer.status;
        }),
      );
      await reading;
      expect(answers).toEqual([200, 200]);
    }
  });
  test('what changes nothing counts nothing and keeps no history', async () => {
    const rows = async () =>
      (
        (await server.db.query(
          'SELECT (SELECT COUNT(*) FROM organisation FOR SYSTEM_TIME ALL) + (SELECT COUNT(*) FROM estate_object FOR SYSTEM_TIME ALL) AS n',
        )) as unknown as [[{ n: number }]]
      )[0][0].n;
    const before = [await revision(), await rows()];
    const { object, version } = (await get('/api/objects/group/bookings')).body;
    const { settings } = (await get('/api/settings')).body;
    expect((await put('/api/objects/group/bookings', { version, object })).status).toBe(200);
    expect((await put('/api/settings', { settings, before: settings })).status).toBe(200);
    expect([await revision(), await rows()]).toEqual(before);
    // Counting is no history either: a person's change leaves the organisation's row alone.
    await put('/api/people/ines/status', { status: 'away' });
    await put('/api/people/ines/status', { status: 'on-shift' });
    expect([await revision(), await rows()]).toEqual([before[0]! + 2, before[1]]);
  });
});
