import { TOTP, Secret } from 'otpauth';
import { letIn } from '../account/routes';
import { turns } from '../auth/passwords';
import { PASSWORD, testServer, type TestServer } from '../test';
import { until } from '../../standins/tests/until';

let server: TestServer;
let now = new Date('2026-11-24T18:00:00Z');
beforeAll(async () => {
  server = await testServer(undefined, undefined, () => now);
});
afterAll(() => server.stop());
beforeEach(() => server.db.query('DELETE FROM attempt'));

const signIn = (name: string, password: string, more: { code?: string; cookie?: string } = {}) =>
  server.ask('POST', '/api/session', {
    body: { name, password, ...(more.code ? { code: more.code } : {}) },
    headers: more.cookie ? { Cookie: more.cookie } : {},
  });
const cookiesOf = (answer: { headers: Headers }) =>
  answer.headers.getSetCookie().map((each) => each.split(';')[0]!);
const named = (cookies: readonly string[], name: string) =>
  cookies.find((each) => each.startsWith(`${name}=`))!;

describe('guesses', () => {
  test('two hundred at the same moment: five are judged', async () => {
    const statuses = await Promise.all(
      Array.from({ length: 200 }, async (_, n) => (await signIn('specialist', `guess ${n}`)).status),
    );
    expect(statuses.filter((status) => status === 401)).toHaveLength(5);
    expect(statuses.every((status) => status === 401 || status === 429)).toBe(true);
  });
  test('strangers who guess lock nobody out of a browser that was used before, and the command line lets in', async () => {
    const device = named(cookiesOf(await signIn('specialist', PASSWORD)), 'hostler_device');
    for (let n = 0; n < 8; n += 1) await signIn('specialist', 'wrong');
    expect((await signIn('specialist', PASSWORD)).status).toBe(429);
    expect((await signIn('specialist', PASSWORD, { cookie: device })).status).toBe(200);
    // Another account is not opened by it.
    expect((await signIn('manager', 'wrong', { cookie: device })).status).toBe(401);
    await letIn(server.db, 'specialist');
    expect((await signIn('specialist', PASSWORD)).status).toBe(200);
  });
  test('an office behind one address signs in as often as it likes', async () => {
    for (let n = 0; n < 40; n += 1) expect((await signIn('manager', PASSWORD)).status).toBe(200);
  });
  test('a right password does not clear what was guessed at other names', async () => {
    for (let n = 0; n < 30; n += 1) {
      await signIn(`nobody${n}`, 'wrong');
      if (n % 5 === 0) await signIn('manager', PASSWORD);
    }
    expect((await signIn('somebody', 'wrong')).status).toBe(429);
  });
});

describe('sessions', () => {
  const asWith = (cookie: string) => (method: string, path: string, body?: unknown) =>
    server.ask(method, path, { headers: { Cookie: cookie }, body });
  const fresh = async (name = 'manager', password = PASSWORD) =>
    named(cookiesOf(await signIn(name, password)), 'hostler_session');

  test('a line that goes to somebody else: the one before sees and sets nothing more', async () => {
    const give = (person: string) =>
      server.ask('POST', `/api/people/${person}/sign-in`, { as: 'specialist', body: {} });
    const { name, password } = (await give('tomasz')).body;
    const before = asWith(await fresh(name, password));
    expect((await before('GET', '/api/me')).body.person.id).toBe('tomasz');
    const again = (await give('tomasz')).body;
    expect((await before('GET', '/api/me')).status).toBe(401);
    const second = asWith(await fresh(again.name, again.password));
    // The extension is given on with its account.
    await server.db.query("UPDATE account SET person_id = 'amara', epoch = epoch + 1 WHERE name = ?", [name]);
    expect((await second('GET', '/api/me')).status).toBe(401);
    expect(
      (await second('POST', '/api/me/wishes', { wish: { kind: 'status', status: 'away' } })).status,
    ).toBe(401);
  });

  test('one’s sessions are listed, each can be ended, and all; a new password ends the others', async () => {
    const [one, two] = [await fresh(), await fresh()];
    const { sessions } = (await asWith(one)('GET', '/api/account')).body;
    expect(sessions.filter(({ isThis }: { isThis: boolean }) => isThis)).toHaveLength(1);
    const other = sessions.filter(({ isThis }: { isThis: boolean }) => !isThis);
    expect(other.length).toBeGreaterThan(0);
    for (const { id } of other)
      expect((await asWith(one)('DELETE', `/api/account/sessions/${id}`)).status).toBe(204);
    expect((await asWith(two)('GET', '/api/session')).status).toBe(401);
    // Somebody else's cannot be ended.
    const theirs = (await server.ask('GET', '/api/account', { as: 'specialist' })).body.sessions[0].id;
    expect((await asWith(one)('DELETE', `/api/account/sessions/${theirs}`)).status).toBe(404);
    const third = await fresh();
    const next = 'another long pass phrase';
    const change = (password: string) => asWith(one)('PUT', '/api/account/password', { password, next });
    expect((await change('not it')).body.faults[0].path).toBe('password');
    const changed = await change(PASSWORD);
    expect(changed.status).toBe(204);
    const going = named(cookiesOf(changed), 'hostler_session');
    expect((await asWith(third)('GET', '/api/session')).status).toBe(401);
    expect((await asWith(one)('GET', '/api/session')).status).toBe(401);
    expect((await asWith(going)('GET', '/api/session')).status).toBe(200);
    expect((await asWith(going)('DELETE', '/api/account/sessions')).status).toBe(204);
    expect((await asWith(going)('GET', '/api/session')).status).toBe(401);
    await server.db.query(
      "UPDATE account SET password_hash = (SELECT password_hash FROM (SELECT * FROM account) AS a WHERE name = 'specialist') WHERE name = 'manager'",
    );
  });

  test('an event stream ends with its session, and one account has a bounded number of them', async () => {
    const cookie = await fresh('help-desk');
    const open = () => fetch(`${server.url}/api/phones/events`, { headers: { Cookie: cookie } });
    const streams = await Promise.all(Array.from({ length: 26 }, open));
    expect(streams.map(({ status }) => status).filter((status) => status === 429)).toHaveLength(2);
    const good = streams.filter(({ status }) => status === 200);
    const read = good.map(async (each) => (await each.text()).length);
    await asWith(cookie)('DELETE', '/api/session');
    // Each ends: nothing is told to whom is not signed in any more.
    expect((await Promise.all(read)).every((length) => length < 200)).toBe(true);
    await Promise.all(streams.filter(({ status }) => status !== 200).map((each) => each.text()));
  });
});

describe('the second factor', () => {
  const codeAt = (secret: string, at: Date) =>
    new TOTP({ secret: Secret.fromBase32(secret), digits: 6, period: 30, algorithm: 'SHA1' }).generate({
      timestamp: at.getTime(),
    });
  test('is set up by a code, asked for at sign-in, takes each code once, and has codes that stand in for it', async () => {
    const ask = (method: string, path: string, body?: unknown) =>
      server.ask(method, path, { as: 'specialist', body });
    expect((await ask('POST', '/api/account/second-factor', { password: 'not it' })).status).toBe(400);
    const { secret, uri } = (await ask('POST', '/api/account/second-factor', { password: PASSWORD })).body;
    expect(uri).toContain('otpauth://totp/');
    expect((await ask('PUT', '/api/account/second-factor', { code: '000000' })).status).toBe(400);
    const { codes } = (await ask('PUT', '/api/account/second-factor', { code: codeAt(secret, now) })).body;
    expect(new Set(codes).size).toBe(8);
    // The password alone lets in no more, and says no more than that it was right.
    const without = await signIn('specialist', PASSWORD);
    expect([without.status, without.body.needsCode]).toEqual([401, true]);
    expect((await signIn('specialist', 'wrong')).body.needsCode).toBeUndefined();
    // The code by which it was set up does not serve twice.
    expect((await signIn('specialist', PASSWORD, { code: codeAt(secret, now) })).status).toBe(401);
    now = new Date(now.getTime() + 60_000);
    const code = codeAt(secret, now);
    await server.db.query('DELETE FROM attempt');
    const twice = await Promise.all(
      [code, code].map((each) => signIn('specialist', PASSWORD, { code: each })),
    );
    expect(twice.map(({ status }) => status).sort()).toEqual([200, 401]);
    expect((await signIn('specialist', PASSWORD, { code: codes[0] })).status).toBe(200);
    expect((await signIn('specialist', PASSWORD, { code: codes[0] })).status).toBe(401);
    expect((await ask('GET', '/api/account')).body.secondFactor).toMatchObject({ codesLeft: 7 });
    await server.db.query('DELETE FROM attempt');
    expect((await ask('POST', '/api/account/second-factor/remove', { password: PASSWORD })).status).toBe(204);
    expect((await signIn('specialist', PASSWORD)).status).toBe(200);
  });
});

test('passwords are looked at by turns: so many at once, so many waiting, the others put off at once', async () => {
  const turn = turns(2, 3);
  let working = 0;
  let most = 0;
  const done: (() => void)[] = [];
  const work = () =>
    turn(async () => {
      working += 1;
      most = Math.max(most, working);
      await new Promise<void>((resolve) => done.push(resolve));
      working -= 1;
    });
  const all = Array.from({ length: 8 }, () =>
    work().then(
      () => 'done',
      (error: { status: number }) => error.status,
    ),
  );
  expect(await Promise.all(all.slice(5))).toEqual([503, 503, 503]);
  for (let n = 0; n < 5; n += 1) {
    const end = await until(() => done.shift());
    end();
  }
  expect(await Promise.all(all.slice(0, 5))).toEqual(Array(5).fill('done'));
  expect(most).toBe(2);
});

describe('what can be found out', () => {
  const PRIVATE = '+17785550101';
  test('the record is searched in what the role sees', async () => {
    const { person, version } = (await server.ask('GET', '/api/people/ines', { as: 'specialist' })).body;
    await server.ask('PUT', '/api/people/ines', {
      as: 'specialist',
      body: { version, person: { ...person, name: `Ines, at home ${PRIVATE}` } },
    });
    const found = async (as: 'help-desk' | 'specialist', text: string) =>
      (await server.ask('GET', `/api/record?text=${encodeURIComponent(text)}`, { as })).body.entries.length;
    expect(await found('specialist', PRIVATE.slice(1, 9))).toBeGreaterThan(0);
    for (let length = 4; length <= PRIVATE.length; length += 1) {
      const guess = PRIVATE.slice(length - 4, length);
      // Four digits in a row are told only where they are seen.
      if (length > 5 && length < PRIVATE.length)
        expect([guess, await found('help-desk', guess)]).toEqual([guess, 0]);
    }
    expect(await found('help-desk', 'at home')).toBeGreaterThan(0);
    const text = (await server.ask('GET', '/api/people', { as: 'help-desk' })).text;
    expect(text).not.toContain(PRIVATE);
    await server.ask('PUT', '/api/people/ines', { as: 'specialist', body: { version: version + 1, person } });
  });
  test('lists of numbers likewise', async () => {
    await server.ask('PUT', '/api/routing/lists/two?name=Two', {
      as: 'specialist',
      body: `number\n${PRIVATE}\n`,
    });
    const found = async (as: 'help-desk' | 'specialist', text: string) =>
      (await server.ask('GET', `/api/routing/lists/two?search=${encodeURIComponent(text)}`, { as })).body
        .matching;
    expect(await found('specialist', '5550101')).toBe(1);
    expect([
      await found('help-desk', '555'),
      await found('help-desk', '0101'),
      await found('help-desk', '778'),
    ]).toEqual([0, 0, 1]);
  });
  test('cover by the help desk to a number outside is judged by permission and by the fraud guard', async () => {
    const cover = (as: 'help-desk' | 'specialist', number: string) =>
      server.ask('PUT', '/api/people/ines/cover', { as, body: { ending: { kind: 'number', number } } });
    for (const number of ['+19005550123', '+8821612345678']) {
      const refused = await cover('help-desk', number);
      expect([refused.status, refused.body.faults?.[0]?.path]).toEqual([400, 'ending.number']);
    }
    expect((await cover('help-desk', '+16045550123')).status).toBe(200);
    await server.ask('PUT', '/api/people/ines/cover', { as: 'help-desk', body: { ending: null } });
  });
  test('ten open requests are ten, however many come at once', async () => {
    const body = { wish: { kind: 'ring-time', at: 'otherwise', stage: 0, forMs: 300_000 } };
    const statuses = await Promise.all(
      Array.from(
        { length: 25 },
        async () => (await server.ask('POST', '/api/me/requests', { as: 'staff', body })).status,
      ),
    );
    expect(statuses.filter((status) => status === 201)).toHaveLength(10);
    expect(statuses.filter((status) => status === 409)).toHaveLength(15);
  });
});
