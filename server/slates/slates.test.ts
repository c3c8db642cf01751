import type { Group, Person } from '../../core/estate';
import { applyDue } from './due';
import { estateStore } from '../estate/store';
import { readSlate } from './queries';
import { demoEstate, testServer, type TestServer } from '../test';
import { slateTools } from '../test/slates';
import { until } from '../../standins/tests/until';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());

const demo = demoEstate();
const personIn = (id: string) => demo.people.find((each) => each.id === id)!;
const { ask, newSlate, current, put } = slateTools(() => server);
const longer = (person: Person): Person => ({
  ...person,
  plan: {
    ...person.plan,
    otherwise: { ...person.plan.otherwise, ending: { kind: 'hang-up', message: 'closed' } },
  },
});

describe('a slate', () => {
  test('collects changes, shows what they change, and puts them live as a whole', async () => {
    const id = await newSlate('Winter crew');
    await put(id, 'ines', (p) => ({ ...p, maxCalls: 3 }));
    const group = demo.groups[0]!;
    await ask('PUT', `/api/slates/${id}/entries/group/${group.id}`, {
      base: group,
      after: { ...group, ringMs: 33_000 } satisfies Group,
      why: 'the quay is loud',
    });
    const before = await ask('GET', `/api/slates/${id}`);
    expect(before.body).toMatchObject({
      slate: { name: 'Winter crew', owner: 'specialist', state: 'work', size: 2 },
      stale: 0,
      entries: [
        {
          kind: 'person',
          id: 'ines',
          action: 'change',
          changes: [{ path: 'maxCalls', before: 2, after: 3 }],
        },
        { kind: 'group', why: 'the quay is loud', changes: [{ path: 'ringMs', after: 33_000 }] },
      ],
    });
    expect((await current('ines')).maxCalls).toBe(2);
    const applied = await ask('POST', `/api/slates/${id}/apply`, {});
    expect([applied.status, applied.body.changed]).toEqual([200, 2]);
    expect((await current('ines')).maxCalls).toBe(3);
    const record = await ask('GET', `/api/record?slate=${id}`);
    expect(record.body.entries).toMatchObject([
      { kind: 'object-changed', slateId: id, why: 'the quay is loud' },
      { kind: 'person-changed', personId: 'ines', slateId: id },
    ]);
    expect((await ask('POST', `/api/slates/${id}/apply`, {})).status).toBe(409);
    expect((await put(id, 'ines', (p) => ({ ...p, maxCalls: 1 }))).body.message).toMatch(/live/);
  });

  test('a change taken back on the slate leaves it; what is not right is refused with its place', async () => {
    const id = await newSlate('Back');
    const base = await current('ruth');
    const path = `/api/slates/${id}/entries/person/ruth`;
    await ask('PUT', path, { base, after: { ...base, maxCalls: 4 } });
    expect((await ask('PUT', path, { base, after: base })).body.slate.size).toBe(0);
    const bad = await ask('PUT', path, { base, after: { ...base, maxCalls: 'many' } });
    expect([bad.status, bad.body.faults[0].path]).toEqual([400, 'maxCalls']);
    expect((await ask('POST', `/api/slates/${id}/apply`, {})).body.refused.kind).toBe('empty');
  });

  test('somebody else’s is not changed unless it is shared; it can be handed over, dropped and brought back', async () => {
    const id = await newSlate('Mine');
    await server.db.query('UPDATE slate SET owner = ? WHERE id = ?', ['mara', id]);
    expect((await put(id, 'ines', (p) => ({ ...p, maxCalls: 9 }))).status).toBe(403);
    await server.db.query('UPDATE slate SET shared = TRUE WHERE id = ?', [id]);
    expect((await put(id, 'ines', (p) => ({ ...p, maxCalls: 9 }))).status).toBe(200);
    expect(
      (await ask('PUT', `/api/slates/${id}`, { owner: 'specialist', shared: false })).body.slate.owner,
    ).toBe('specialist');
    expect((await ask('DELETE', `/api/slates/${id}`)).status).toBe(204);
    expect((await ask('POST', `/api/slates/${id}/back`)).body.slate.state).toBe('work');
    expect((await server.ask('POST', '/api/slates', { as: 'manager', body: { name: 'x' } })).status).toBe(
      403,
    );
  });

  test('it is handed only to a specialist who has an account', async () => {
    const id = await newSlate('Handed');
    const hand = (owner: string) => ask('PUT', `/api/slates/${id}`, { owner });
    expect((await hand('nobody')).body.faults[0]).toEqual({
      path: 'owner',
      message: 'is no specialist’s account',
    });
    expect((await hand('manager')).status).toBe(400);
    expect((await hand('specialist')).status).toBe(200);
  });

  test('one that rests on something changed since is refused with both sides, and can be carried over', async () => {
    const id = await newSlate('Stale');
    await put(id, 'mateo', (p) => ({ ...p, maxCalls: 5, name: 'Mateo Mine' }));
    const page = await ask('GET', '/api/people/mateo');
    await ask('PUT', '/api/people/mateo', {
      version: page.body.version,
      person: { ...page.body.person, status: 'on-leave', name: 'Mateo Theirs' },
    });
    const refused = await ask('POST', `/api/slates/${id}/apply`, {});
    expect([refused.status, refused.body.refused.kind]).toEqual([409, 'stale']);
    expect(refused.body.refused.stale[0].theirs).toMatchObject({ name: 'Mateo Theirs', maxCalls: 2 });
    const carried = await ask('POST', `/api/slates/${id}/carry`);
    expect(carried.body).toMatchObject({ stale: 0, clashes: [{ paths: ['name'] }] });
    expect((await ask('POST', `/api/slates/${id}/apply`, {})).status).toBe(200);
    expect(await current('mateo')).toMatchObject({ name: 'Mateo Mine', maxCalls: 5, status: 'on-leave' });
  });

  test('what would leave something pointing at nothing is refused before anything is written', async () => {
    const id = await newSlate('Gone');
    const base = await current('tomasz');
    await ask('PUT', `/api/slates/${id}/entries/person/tomasz`, { base, after: null });
    const refused = await ask('POST', `/api/slates/${id}/apply`, {});
    expect(refused.status).toBe(400);
    expect(refused.body.faults.map((fault: { path: string }) => fault.path).join()).toMatch(/Ines Okafor/);
    expect((await current('tomasz')).id).toBe('tomasz');
  });

  test('people are added, and taken out with what they had', async () => {
    const id = await newSlate('New');
    const someone: Person = {
      ...personIn('noor'),
      id: 'nova',
      name: 'Nova Test',
      lines: [{ id: 'l-nova', extension: '4999', numbers: [] }],
      endpoints: [{ id: 'nova-desk', label: 'Desk phone', kind: 'desk' }],
      plan: {
        rules: [],
        otherwise: {
          stages: [{ ring: [{ endpoint: 'nova-desk' }], forMs: 20_000 }],
          ending: { kind: 'mailbox' },
        },
      },
    };
    await ask('PUT', `/api/slates/${id}/entries/person/nova`, { base: null, after: someone });
    expect((await ask('POST', `/api/slates/${id}/apply`, {})).status).toBe(200);
    expect((await current('nova')).name).toBe('Nova Test');
    const owed = (await ask('GET', '/api/restarts')).body.owed as { person: string; says: string }[];
    expect(owed).toContainEqual(
      expect.objectContaining({ person: 'nova', says: expect.stringContaining('not set up yet') }),
    );
    const out = await newSlate('Out');
    await ask('PUT', `/api/slates/${out}/entries/person/nova`, { base: await current('nova'), after: null });
    expect((await ask('POST', `/api/slates/${out}/apply`, {})).status).toBe(200);
    expect((await ask('GET', '/api/people/nova')).status).toBe(404);
    expect((await ask('GET', '/api/restarts')).body.owed).toEqual([]);
  });
});

describe('two at once, and the clock', () => {
  test('two put one slate live at the same moment: it is done once, the other is told', async () => {
    const id = await newSlate('Race');
    await put(id, 'ruth', (p) => ({ ...p, maxCalls: 7 }));
    const answers = await Promise.all([1, 2].map(() => ask('POST', `/api/slates/${id}/apply`, {})));
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
    const record = await ask('GET', '/api/record');
    expect(record.body.entries.filter((each: { slateId: number }) => each.slateId === id)).toHaveLength(1);
  });

  test('two slates that change the same: one wins, the other is told what is there now', async () => {
    const [a, b] = [await newSlate('A'), await newSlate('B')];
    await put(a, 'priya', (p) => ({ ...p, maxCalls: 5 }));
    await put(b, 'priya', (p) => ({ ...p, maxCalls: 6 }));
    const answers = await Promise.all([a, b].map((id) => ask('POST', `/api/slates/${id}/apply`, {})));
    const lost = answers.filter(({ status }) => status === 409);
    expect(answers.filter(({ status }) => status === 200)).toHaveLength(1);
    expect(lost[0]!.body.refused.kind).toBe('stale');
  });

  test('a timed slate is put live once, when its time has come, however often and oddly the clock is read', async () => {
    const id = await newSlate('Monday');
    await put(id, 'noor', (p) => ({ ...p, maxCalls: 8 }));
    expect(
      (await ask('PUT', `/api/slates/${id}`, { dueAt: '2026-11-01T06:00:00-07:00' })).body.faults[0].path,
    ).toBe('dueAt');
    const timed = await ask('PUT', `/api/slates/${id}`, { dueAt: '2026-11-30T06:00:00-07:00' });
    expect(timed.body.slate).toMatchObject({ state: 'timed', dueAt: '2026-11-30T13:00:00.000Z' });
    const services = (at: string) => ({
      db: server.db,
      store: estateStore(server.db),
      now: () => new Date(at),
    });
    await applyDue(services('2026-11-30T12:59:59Z'));
    expect((await readSlate(server.db, id))?.state).toBe('timed');
    await Promise.all(['2026-11-30T13:00:00Z', '2026-11-30T13:00:00Z'].map((at) => applyDue(services(at))));
    // The clock is set back, and comes to the moment again.
    await applyDue(services('2026-11-30T12:00:00Z'));
    await applyDue(services('2026-11-30T14:00:00Z'));
    expect((await readSlate(server.db, id))?.state).toBe('applied');
    const [rows] = await server.db.query('SELECT id FROM record_entry WHERE slate_id = ?', [id]);
    expect(rows).toHaveLength(1);
  });

  test('a stream of status changes of its people does not hold a slate up, and is kept', async () => {
    const people = ['owen', 'amara', 'saskia'];
    const id = await newSlate('Under way');
    for (const who of people) await put(id, who, (p) => ({ ...p, maxCalls: 9 }));
    let going = true;
    let changes = 0;
    const stream = (async () => {
      for (let n = 0; going; n += 1) {
        const status = n % 2 === 0 ? 'on-leave' : 'on-shift';
        const { status: done } = await ask('PUT', `/api/people/${people[n % 3]!}/status`, { status });
        expect(done).toBe(200);
        changes += 1;
      }
    })();
    const applied = await ask('POST', `/api/slates/${id}/apply`, {});
    going = false;
    await stream;
    expect(applied.status).toBe(200);
    expect(changes).toBeGreaterThan(0);
    for (const who of people) expect((await current(who)).maxCalls).toBe(9);
    // What a slate sets itself has the last word; what was switched meanwhile stays.
    const again = await newSlate('Status too');
    await put(again, 'owen', (p) => ({ ...p, maxCalls: 4 }));
    await ask('PUT', '/api/people/owen/status', { status: 'away' });
    expect((await ask('GET', `/api/slates/${again}`)).body.stale).toBe(0);
    expect((await ask('POST', `/api/slates/${again}/apply`, {})).status).toBe(200);
    expect(await current('owen')).toMatchObject({ maxCalls: 4, status: 'away' });
    await ask('PUT', '/api/people/owen/status', { status: 'on-shift' });
  });

  test('a timed slate that cannot be put live is held, with the reason', async () => {
    const id = await newSlate('Held');
    await put(id, 'owen', (p) => ({ ...p, maxCalls: 8 }));
    await ask('PUT', `/api/slates/${id}`, { dueAt: '2026-12-01T06:00:00-07:00' });
    const { person, version } = (await ask('GET', '/api/people/owen')).body;
    await ask('PUT', '/api/people/owen', { version, person: { ...person, maxCalls: 3 } });
    await applyDue({
      db: server.db,
      store: estateStore(server.db),
      now: () => new Date('2026-12-01T15:00:00Z'),
    });
    expect(await readSlate(server.db, id)).toMatchObject({
      state: 'held',
      heldWhy: expect.stringContaining('Owen'),
    });
  });
});

describe('what a slate does', () => {
  test('the impact is worked out in threads, and begins anew when the slate changes', async () => {
    const id = await newSlate('Impact');
    await put(id, 'tomasz', longer);
    const begun = await ask('POST', `/api/slates/${id}/impact`);
    expect(begun.status).toBe(202);
    const state = await until(async () => {
      const { body } = await ask('GET', `/api/slates/${id}/impact`);
      return body.state !== 'running' && body;
    }, 100_000);
    expect(state).toMatchObject({ state: 'done' });
    const says = state.groups.map((group: { says: string }) => group.says).join('\n');
    expect(says).toMatch(/Tomasz Bright: an unanswered call.* now is ended with “closed”/);
    expect(says).toMatch(/Ines Okafor: .*“Night watch”/);
    const { changes } = state.groups[0];
    const strips = await ask('POST', `/api/slates/${id}/strips`, {
      kind: changes[0].start.kind,
      id: changes[0].start.id,
      call: changes[0].call,
    });
    expect(strips.body.before.ending).not.toBe(strips.body.after.ending);
    await put(id, 'tomasz', (p) => ({ ...longer(p), maxCalls: 2 }));
    const again = await ask('POST', `/api/slates/${id}/impact`);
    expect(again.body.key).not.toBe(begun.body.key);
    await ask('DELETE', `/api/slates/${id}/impact`);
    expect((await ask('GET', `/api/slates/${id}/impact`)).body.state).not.toBe('running');
  });

  test('a drill that fails blocks it, unless it is overruled with a reason, which is recorded', async () => {
    const drill = {
      id: 'tomasz-mailbox',
      name: 'Tomasz keeps his messages',
      standsFor: { person: 'tomasz' },
      call: { from: '+16045550199', at: '2026-11-24T10:00:00-07:00' },
      expect: { kind: 'mailbox', person: 'own' },
    };
    const kept = await ask('PUT', '/api/drills/tomasz-mailbox', { drill });
    expect(kept.body).toMatchObject({ whom: 'Tomasz Bright', ok: 1, failed: [] });
    const bad = await ask('PUT', '/api/drills/tomasz-mailbox', { drill: { ...drill, expect: {} } });
    expect(bad.body.faults[0].path).toBe('expect.kind');
    const id = await newSlate('Drilled');
    await put(id, 'tomasz', longer);
    expect((await ask('GET', `/api/slates/${id}/drills`)).body).toMatchObject({
      drills: 1,
      failed: [{ ok: false }],
    });
    const refused = await ask('POST', `/api/slates/${id}/apply`, {});
    expect(refused.body.refused).toMatchObject({ kind: 'drills', failed: [{ drill: 'tomasz-mailbox' }] });
    expect((await ask('POST', `/api/slates/${id}/apply`, { overrule: ' ' })).body.faults[0].path).toBe(
      'overrule',
    );
    const forced = await ask('POST', `/api/slates/${id}/apply`, { overrule: 'he wants it so' });
    expect(forced.body.slate).toMatchObject({ state: 'applied', overrule: 'he wants it so' });
    const record = (await ask('GET', '/api/record')).body.entries as { kind: string; why: string }[];
    expect(record.find(({ kind }) => kind === 'drills-overruled')?.why).toBe('he wants it so');
    expect((await server.ask('GET', '/api/drills/report', { as: 'specialist' })).text).toContain(
      'failures="1"',
    );
    expect((await ask('DELETE', '/api/drills/tomasz-mailbox')).status).toBe(204);
    const [removed] = (await ask('GET', '/api/record?kind=drill-removed')).body.entries as { id: number }[];
    expect((await ask('POST', '/api/record/drill', { entries: [removed!.id] })).body.drills).toBe(1);
    const drills = (await ask('GET', '/api/drills')).body.drills as { drill: { id: string } }[];
    expect(drills.map((each) => each.drill.id)).toEqual(['tomasz-mailbox']);
    const [other] = (await ask('GET', '/api/record?kind=drill-kept')).body.entries as { id: number }[];
    expect((await ask('POST', '/api/record/drill', { entries: [other!.id] })).status).toBe(400);
    await ask('DELETE', '/api/drills/tomasz-mailbox');
  });
});
