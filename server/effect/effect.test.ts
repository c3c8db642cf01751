import type { Effect } from '../../api/effect';
import { switchEndpoint } from '../../core/editing';
import type { Person } from '../../core/estate';
import { groupChanges, impactNames } from '../../core/assurance/impact';
import { applyEntries, type SlateEntry } from '../../core/changes/slate';
import { estateStore } from '../estate';
import { impactOf, slateEstate } from '../slates';
import { soon, until } from '../../standins/tests/until';
import { NOW, testServer, type TestServer } from '../test';
import { effectsUnderWay } from './effect';

let server: TestServer;
beforeAll(async () => {
  // Nothing here is about time: however slow the machine, all is gone through.
  process.env.HOSTLER_EFFECT_MS = '100000';
  server = await testServer();
});
afterAll(() => {
  delete process.env.HOSTLER_EFFECT_MS;
  return server.stop();
});

const specialist = { as: 'specialist' } as const;
const person = async (id: string) =>
  (await server.ask('GET', `/api/people/${id}`, specialist)).body.person as Person;
const effect = async (entries: readonly SlateEntry[]) =>
  server.ask('POST', '/api/effect', { ...specialist, body: { entries } });
const changed = (base: Person, after: Person): SlateEntry => ({
  kind: 'person',
  id: base.id,
  name: base.name,
  base,
  after,
});
/** Every call of somebody lost: nothing rings, and the call fails. */
const lost = (base: Person): Person => ({
  ...base,
  plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' } } },
  mailbox: { enabled: false },
});

test('a change of a name does nothing to calls; the person stays as they are', async () => {
  const ines = await person('ines');
  const answer = await effect([changed(ines, { ...ines, name: 'Ines Lund' })]);
  expect(answer).toMatchObject({
    status: 200,
    body: { calls: [], promises: [], drills: [], open: [], proved: 1, through: true },
  });
  expect(answer.body.touched).toBeGreaterThan(0);
  expect(await person('ines')).toEqual(ines);
});

test('calls that are lost, a promise that breaks and a drill that fails are each told, and nothing is written', async () => {
  const ines = await person('ines');
  const promises = [{ id: 'own', promise: { kind: 'own-mailbox', withinMs: 60_000 } }];
  const { body: kept } = await server.ask('GET', '/api/promises', specialist);
  await server.ask('PUT', '/api/promises', { ...specialist, body: { promises, before: kept.promises } });
  const drill = await server.ask('PUT', '/api/drills/ines-takes-messages', {
    ...specialist,
    body: {
      drill: {
        id: 'ines-takes-messages',
        name: 'Ines takes messages',
        standsFor: { person: 'ines' },
        call: { from: '+12505550199', at: '2026-11-24T20:00:00-07:00' },
        expect: { kind: 'mailbox' },
      },
    },
  });
  expect(drill.status).toBeLessThan(300);
  const revision = (await server.ask('GET', '/api/people', specialist)).body.revision as number;
  const { body } = (await effect([changed(ines, lost(ines))])) as { body: Effect };
  expect(body.calls[0]).toMatchObject({ weight: 'lost' });
  expect(body.calls[0]!.who).toContain('Ines Okafor');
  expect(body.drills.map(({ id }) => id)).toEqual(['ines-takes-messages']);
  const before = (await effect([changed(ines, { ...ines, name: 'Other' })])).body as Effect;
  expect(before.promises).toEqual([]);
  // Whether the promise held before decides whether it breaks now.
  const proofs = await server.ask('GET', '/api/people/ines/proofs', specialist);
  const held = (proofs.body.proofs as { broken: unknown }[])[0]!.broken === null;
  expect(body.promises.some((each) => each.person === 'ines')).toBe(held);
  expect((await server.ask('GET', '/api/people', specialist)).body.revision).toBe(revision);
  expect(await person('ines')).toEqual(ines);
});

test('what leads to somebody who is changed is touched too', async () => {
  const tomasz = await person('tomasz');
  const { body } = (await effect([changed(tomasz, lost(tomasz))])) as { body: Effect };
  // Calls for Ines go on to Tomasz at night.
  expect(body.calls.flatMap(({ who }) => who)).toContain('Ines Okafor');
});

test('a switch, a status and a cover of the help desk, without its being able to send anything else', async () => {
  const act = (body: object, as: 'help-desk' | 'manager' = 'help-desk') =>
    server.ask('POST', '/api/people/ines/effect', { as, body });
  const ines = await person('ines');
  const [phone] = ines.endpoints;
  const off = await act({ endpoint: phone!.id, enabled: false });
  const same = await effect([changed(ines, switchEndpoint(ines, phone!.id, false))]);
  expect(off.body.calls.map(({ weight }: { weight: string }) => weight)).toEqual(
    same.body.calls.map(({ weight }: { weight: string }) => weight),
  );
  const cover = await act({ ending: { kind: 'hang-up', message: '' } });
  expect(cover.body.calls.length).toBeGreaterThan(0);
  expect((await act({ status: 'none-such' })).status).toBe(400);
  expect((await act({ person: {} })).status).toBe(400);
  expect((await act({ status: 'on' }, 'manager')).status).toBe(403);
  expect((await server.ask('POST', '/api/effect', { as: 'help-desk', body: { entries: [] } })).status).toBe(
    403,
  );
});

test('what could not be put live at all is refused: a fault, an older base, too many at once', async () => {
  const ines = await person('ines');
  const fault = await effect([changed(ines, { ...ines, permission: 'none-such' })]);
  expect(fault.status).toBe(400);
  const stale = await effect([changed({ ...ines, name: 'Before' }, { ...ines, name: 'After' })]);
  expect(stale.status).toBe(409);
  const many = Array.from({ length: 51 }, () => changed(ines, ines));
  expect((await effect(many)).status).toBe(400);
  expect(
    (await effect([{ kind: 'person', id: 'ines', name: 'x', base: ines, after: { id: 'ines' } }])).status,
  ).toBe(400);
});

test('what is worked out on a part of the estate is what is worked out on the whole of it', async () => {
  const live = await slateEstate({ db: server.db, store: estateStore(server.db) });
  const { estate } = live;
  const edits: SlateEntry[] = estate.people.slice(0, 4).flatMap((each) => {
    const [phone] = each.endpoints;
    return [
      changed(each, lost(each)),
      ...(phone ? [changed(each, switchEndpoint(each, phone.id, false))] : []),
      changed(each, { ...each, permission: estate.permissions.find(({ id }) => id !== each.permission)!.id }),
    ];
  });
  for (const group of estate.groups)
    edits.push({
      kind: 'group',
      id: group.id,
      name: group.name,
      base: group,
      after: { ...group, members: [] },
    });
  for (const schedule of estate.schedules)
    edits.push({
      kind: 'schedule',
      id: schedule.id,
      name: schedule.name,
      base: schedule,
      after: { ...schedule, weekly: [] },
    });
  let differing = 0;
  for (const [n, entry] of edits.entries()) {
    const { status, body } = (await effect([entry])) as { status: number; body: Effect };
    expect([entry.name, status]).toEqual([entry.name, 200]);
    const fromMs = Date.parse(NOW);
    const whole = groupChanges(
      await impactOf(live, [entry], fromMs, `whole ${n}`),
      impactNames(applyEntries(estate, [entry]), estate),
    );
    expect([entry.kind, entry.name, body.calls.map(({ says }) => says)]).toEqual([
      entry.kind,
      entry.name,
      whole.slice(0, body.calls.length).map(({ says }) => says),
    ]);
    expect(body.calls.length + body.more).toBe(whole.length);
    if (whole.length > 0) differing += 1;
  }
  expect(differing).toBeGreaterThan(10);
});

test('what cannot be gone through in time is said not to be known, and nothing is claimed of it', async () => {
  process.env.HOSTLER_EFFECT_MS = '1';
  try {
    const ines = await person('ines');
    const { body } = (await effect([changed(ines, lost(ines))])) as { body: Effect };
    expect(body).toMatchObject({ through: false, calls: [], promises: [] });
    expect(body.open).toContain('calls that end differently');
  } finally {
    process.env.HOSTLER_EFFECT_MS = '100000';
  }
});

test('what nobody waits for any more is not worked out: those who come next are not put off for it', async () => {
  const ines = await person('ines');
  const stop = new AbortController();
  const { Cookie, Origin } = { Cookie: server.cookies.specialist, Origin: server.url };
  const left = Array.from({ length: 6 }, (_, n) =>
    fetch(`${server.url}/api/effect`, {
      method: 'POST',
      headers: { Cookie, Origin, 'Content-Type': 'application/json' },
      body: JSON.stringify({ entries: [changed(ines, lost({ ...ines, name: `Ines ${n}` }))] }),
      signal: stop.signal,
    }).catch(() => null),
  );
  const other = await person('juno-ravensby');
  const next = () => effect([changed(other, lost(other))]);
  // As many are under way as may be: the next is put off.
  await until(() => effectsUnderWay() === left.length);
  let { status } = await next();
  expect(status).toBe(503);
  stop.abort();
  expect(await Promise.all(left)).toEqual(left.map(() => null));
  for (let tries = 0; tries < 100 && status === 503; tries += 1) {
    await soon();
    ({ status } = await next());
  }
  expect(status).toBe(200);
});

test('forty at once are all answered alike', async () => {
  const ines = await person('ines');
  const answers = await Promise.all(Array.from({ length: 40 }, () => effect([changed(ines, lost(ines))])));
  const told = answers.filter(({ status }) => status === 200).map(({ body }) => (body as Effect).calls);
  for (const calls of told.filter((each) => each.length > 0)) expect(calls).toEqual(told[0]);
  for (const { status } of answers) expect([200, 503]).toContain(status);
});
