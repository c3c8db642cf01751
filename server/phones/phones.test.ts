import pino from 'pino';
import { workedEstate } from '../../core/tests/worked';
import { clockAt } from '../../standins/sip/clock';
import { openPhone } from '../../standins/phones/phone';
import { openKeyring, type Keyring } from '../secrets/keyring';
import { testServer, type TestServer } from '../test';
import { mustOpenSecrets } from '../secrets/store';
import { matchAccounts, readAccount, readAccounts, rotateKey } from '../switchboard/accounts';
import { openSwitchboard } from '../switchboard/switchboard';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

let server: TestServer;
let keys: Keyring;
const estate = workedEstate();
const DESK = 'ines-desk';

beforeAll(async () => {
  process.env.HOSTLER_SIP_PORT = '0';
  server = await testServer(estate, (services) => {
    keys = services.secrets;
    return openSwitchboard({ ...services, log: pino({ level: 'silent' }) });
  });
});
afterAll(() => server.stop());

interface Event {
  readonly name: string;
  // What the server sent; tests look into it.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  readonly data: any;
}

/** Hears a path's events until one fits. */
async function hear(
  path: string,
  as: 'specialist' | 'help-desk',
  fits: (event: Event) => boolean | Promise<boolean>,
): Promise<Event> {
  const stop = new AbortController();
  const response = await fetch(server.url + path, {
    headers: { Cookie: server.cookies[as] },
    signal: stop.signal,
  });
  expect(response.headers.get('content-type')).toBe('text/event-stream');
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { value, done } = await reader.read();
    if (done) throw new Error('the events ended');
    const parts = (rest + value).split('\n\n');
    rest = parts.pop() ?? '';
    for (const part of parts) {
      const match = /^event: (\w+)\ndata: (.*)$/s.exec(part);
      if (!match) continue;
      const event = { name: match[1]!, data: JSON.parse(match[2]!) as unknown };
      if (!(await fits(event))) continue;
      stop.abort();
      return event;
    }
  }
}

/**
 * Waits until the list of phones is as wanted: it is looked at when the stream of events opens, and after each event,
 * so that no change is missed.
 */
async function phonesWhen(wanted: (body: Body) => boolean): Promise<Body> {
  let found: Body | null = null;
  await hear('/api/phones/events', 'specialist', async () => {
    found = (await server.ask('GET', '/api/phones', { as: 'specialist' })).body as Body;
    return wanted(found);
  });
  return found!;
}
interface Body {
  readonly place: { readonly address: string; readonly udp: number } | null;
  readonly registrations: readonly {
    readonly user: string;
    readonly endpoint: string;
    readonly contact: string;
  }[];
  readonly lost: readonly { readonly endpoint: string; readonly why: string; readonly detail: string }[];
}
const registered = (endpoint: string) => (body: Body) =>
  body.registrations.some((each) => each.endpoint === endpoint);

const call = (more: object = {}) => ({
  from: '+16045550199',
  to: '+12505550101',
  at: '2026-11-24T14:20:00-07:00',
  world: { endpoints: { [DESK]: { answerAfterMs: 3000 } } },
  ...more,
});
const place = async (as: 'specialist' | 'help-desk', body: object) =>
  server.ask('POST', '/api/live', { as, body });

test('every phone of the estate gets an account of its own and registers with it', async () => {
  const wanted = estate.people.flatMap(({ endpoints }) =>
    endpoints.filter(({ kind }) => kind !== 'mobile' && kind !== 'landline').map(({ id }) => id),
  );
  const body = await phonesWhen((each) => each.registrations.length === wanted.length);
  expect(body.registrations.map(({ endpoint }) => endpoint).sort()).toEqual([...wanted].sort());
  expect(body.place?.address).toBe('127.0.0.1');
});

test('a phone whose stand-in has a wrong password is lost, with the reason, and back when it is right', async () => {
  const set = (does: string) =>
    server.ask('PUT', `/api/phones/${DESK}/standin`, { as: 'help-desk', body: { does } });
  expect((await set('wrong-password')).status).toBe(204);
  const gone = await phonesWhen((body) => body.lost.some(({ why }) => why === 'refused'));
  expect(gone.lost).toEqual([expect.objectContaining({ endpoint: DESK, detail: 'the password is wrong' })]);
  await set('ready');
  expect((await phonesWhen(registered(DESK))).lost).toEqual([]);
  expect((await set('sings')).status).toBe(400);
});

test('any user agent registers with the values shown, and is listed as a second device', async () => {
  await phonesWhen(registered(DESK));
  const { body } = await server.ask('POST', `/api/phones/${DESK}/account/password`, {
    as: 'specialist',
    body: {},
  });
  const phone = await openPhone({
    address: '127.0.42.1',
    clock: clockAt(),
    manner: () => null,
    userAgent: 'Another',
  });
  try {
    const done = await phone.register(
      { user: String(body.user), password: String(body.password) },
      { transport: 'udp', host: String(body.server), port: Number(body.ports.udp) },
    );
    expect(done.ok).toBe(true);
    await phonesWhen((each) => each.registrations.filter(({ endpoint }) => endpoint === DESK).length === 2);
    await phone.unregister();
  } finally {
    await phone.close();
  }
});

test('a new password throws every device off until it is typed in, and both are recorded; a help desk sees none', async () => {
  const ask = (as: 'specialist' | 'help-desk', renew = '') =>
    server.ask('POST', `/api/phones/${DESK}/account/password${renew}`, { as, body: {} });
  const before = String((await ask('specialist')).body.password);
  const after = String((await ask('specialist', '?renew=1')).body.password);
  expect(before).toMatch(/^[A-Za-z0-9]{24}$/);
  expect(after).not.toBe(before);
  await phonesWhen(registered(DESK));
  expect((await ask('help-desk')).status).toBe(403);
  const { body } = await server.ask('GET', '/api/record?kind=password-renewed', { as: 'specialist' });
  expect(body.entries[0]).toMatchObject({ who: 'specialist', personId: 'ines' });
  const values = await server.ask('GET', `/api/phones/${DESK}/account`, { as: 'help-desk' });
  expect(values.text).not.toContain(after);
});

test('a call is placed live, told as it goes on, and comes out as computed', async () => {
  const started = await place('specialist', { call: call(), speed: '10' });
  expect(started.status).toBe(201);
  const path = `/api/live/${String(started.body.id)}`;
  const { data } = await hear(
    `${path}/events?person=ines`,
    'specialist',
    ({ data: each }) => each.state === 'done',
  );
  expect(data).toMatchObject({ departures: [], status: 200, sound: { fromCaller: 5, fromCalled: 5 } });
  expect(data.seen.outcome).toMatchObject({ kind: 'answered', endpoint: DESK });
  const ladder = await server.ask('GET', `${path}/ladder`, { as: 'specialist' });
  expect(ladder.body.parties.map((each: { name: string }) => each.name)).toEqual([
    'Caller',
    'Phone system',
    'Ines Okafor: Dock office phone',
    'Carrier',
  ]);
  expect(ladder.body.rows[0].label).toBe('INVITE');
});

test('what was put live a moment ago is what is tried, each time', async () => {
  await phonesWhen(registered(DESK));
  const { body: before } = await server.ask('GET', '/api/people/ines', { as: 'specialist' });
  let { version } = before;
  const put = async (person: object) => {
    const put = await server.ask('PUT', '/api/people/ines', {
      as: 'specialist',
      body: { version, person },
    });
    expect(put.status).toBe(200);
    ({ version } = put.body);
  };
  const [line] = before.person.lines;
  for (const extension of ['4191', '4192', '4193']) {
    await put({ ...before.person, lines: [{ ...line, extension }] });
    const started = await place('specialist', { call: call({ to: extension }), speed: '10' });
    const path = `/api/live/${String(started.body.id)}/events`;
    const { data } = await hear(path, 'specialist', ({ data: each }) => each.state === 'done');
    expect(data.seen.outcome).toMatchObject({ kind: 'answered', endpoint: DESK });
  }
  await put(before.person);
});

test('private numbers are masked in the ladder and the capture of a help desk, whole for a specialist who asks', async () => {
  const started = await place('help-desk', { call: call(), speed: '10' });
  const path = `/api/live/${String(started.body.id)}`;
  const { data } = await hear(`${path}/events`, 'help-desk', ({ data: each }) => each.state === 'done');
  expect(data.state).toBe('done');
  const mobile = estate.people[0]!.endpoints.find(({ kind }) => kind === 'mobile')!.number!;
  const capture = async (as: 'specialist' | 'help-desk', query = '') => {
    const response = await fetch(`${server.url}${path}/capture${query}`, {
      headers: { Cookie: server.cookies[as] },
    });
    return Buffer.from(await response.arrayBuffer()).toString('latin1');
  };
  expect(await capture('specialist')).toContain(mobile);
  for (const masked of [await capture('help-desk'), await capture('specialist', '?masked=1')]) {
    expect(masked).not.toContain(mobile);
    expect(masked).toContain(`${mobile.slice(0, 5)}xx`);
  }
  expect((await server.ask('GET', `${path}/ladder`, { as: 'help-desk' })).text).not.toContain(mobile);
});

test('a call that cannot be placed is refused with what is wrong, and a manager places none', async () => {
  const wrong = await place('specialist', { call: { ...call(), at: 'noon' }, speed: '10' });
  expect(wrong.status).toBe(400);
  expect(wrong.body.faults[0].path).toBe('call.at');
  expect((await place('specialist', { call: call(), speed: '1000' })).status).toBe(400);
  expect((await server.ask('POST', '/api/live', { as: 'manager', body: { call: call() } })).status).toBe(403);
  expect((await server.ask('GET', '/api/live/none/ladder', { as: 'specialist' })).status).toBe(404);
});

test('a live call that is hung up by hand ends as abandoned', async () => {
  const started = await place('specialist', { call: call({ world: {} }), speed: '1' });
  const path = `/api/live/${String(started.body.id)}`;
  await hear(`${path}/events`, 'specialist', ({ data }) => data.seen !== null);
  await server.ask('DELETE', path, { as: 'specialist' });
  const { data } = await hear(`${path}/events`, 'specialist', ({ data: each }) => each.state !== 'running');
  expect(data.seen.outcome.kind).toBe('abandoned');
});

test('turning the key seals every password anew, and the database never holds one in the open', async () => {
  const before = await readAccounts(server.db, keys);
  const [rows] = await server.db.query('SELECT * FROM sip_account');
  const stored = JSON.stringify(rows);
  for (const { password } of before) expect(stored).not.toContain(password);
  const old = keys.currentId();
  expect(await rotateKey(server.db, keys)).toBe(before.length);
  expect(keys.currentId()).not.toBe(old);
  expect(await readAccounts(server.db, keys)).toEqual(before);
  const other = openKeyring(join(mkdtempSync(join(tmpdir(), 'hostler-other-')), 'keys.json'));
  // A server with other keys opens none of them, and says so where it starts; one such row concerns one phone.
  const lost: string[] = [];
  expect(await readAccounts(server.db, other, (user) => lost.push(user))).toEqual([]);
  expect(lost).toHaveLength(before.length);
  await expect(mustOpenSecrets(server.db, other)).rejects.toThrow(/Copy the key file/);
});

test('accounts follow the estate: a new phone gets one, a removed one loses it', async () => {
  const less = {
    ...estate,
    people: estate.people.map((person) => ({
      ...person,
      endpoints: person.endpoints.filter(({ id }) => id !== DESK),
    })),
  };
  expect(await matchAccounts(server.db, keys, less, new Date())).toBe(true);
  expect(await readAccount(server.db, keys, DESK)).toBeNull();
  expect(await matchAccounts(server.db, keys, estate, new Date())).toBe(true);
  expect((await readAccount(server.db, keys, DESK))?.user).toBe(DESK);
  expect(await matchAccounts(server.db, keys, estate, new Date())).toBe(false);
});
