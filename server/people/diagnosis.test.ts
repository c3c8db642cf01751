import { demoEstate, testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());
const ask = (method: string, path: string, body?: unknown) =>
  server.ask(method, path, { as: 'specialist', ...(body === undefined ? {} : { body }) });

describe('what is wrong', () => {
  test('the complaints that can be a person’s, and the causes of one, with findings and mends', async () => {
    const asked = await ask('GET', '/api/people/ruth/diagnosis');
    expect(asked.body.diagnosis).toBeNull();
    expect(asked.body.complaints.map(({ id }: { id: string }) => id)).toContain('mobile-silent');
    const { body } = await ask('GET', '/api/people/ruth/diagnosis?complaint=mobile-silent');
    expect(body.diagnosis.causes[0]).toMatchObject({
      id: 'as-set',
      isSet: true,
      findings: [{ mend: 'Give the permission “Local and national”' }],
    });
  });

  test('a phone at home is asked for its way through the network too, and so is a complaint about sound', async () => {
    const { body } = await ask('GET', '/api/people/ruth/diagnosis?complaint=only-in-the-office');
    expect(body.complaints.map(({ id }: { id: string }) => id)).toContain('one-way-sound');
    expect(body.diagnosis.causes).toMatchObject([
      { id: 'device:phone-ruth-desk rings', call: null, isSet: true, site: 'home-ruth' },
    ]);
    expect(
      (await ask('GET', '/api/people/ruth/diagnosis?complaint=one-way-sound')).body.diagnosis.causes,
    ).toEqual([]);
  });

  test('what it is asked for that is not there is refused', async () => {
    expect((await ask('GET', '/api/people/zoe/diagnosis')).status).toBe(404);
    expect((await ask('GET', '/api/people/ruth/diagnosis?complaint=none')).status).toBe(404);
    expect((await ask('GET', '/api/people/ruth/diagnosis?complaint=lost&at=then')).status).toBe(400);
  });

  test('who may not see private numbers is shown none in it', async () => {
    const path = '/api/people/amara/diagnosis?complaint=private-voicemail';
    const [all, masked] = [await ask('GET', path), await server.ask('GET', path, { as: 'manager' })];
    expect(all.text).toMatch(/672 ?555 ?0105/);
    expect(masked.text).not.toMatch(/672 ?555 ?0105/);
  });
});

test('a complaint about an hour that is past is about the estate and the status of then', async () => {
  const clocked = await testServer(demoEstate(), undefined, () => new Date());
  try {
    const look = (query: string) =>
      clocked.ask('GET', `/api/people/ruth/diagnosis?complaint=mobile-silent${query}`, { as: 'specialist' });
    const before = Date.now();
    const { body: page } = await clocked.ask('GET', '/api/people/ruth', { as: 'specialist' });
    const { person, version } = page;
    const mended = { ...person, permission: 'coast', status: 'away' };
    const put = await clocked.ask('PUT', '/api/people/ruth', {
      as: 'specialist',
      body: { version, person: mended },
    });
    expect(put.status).toBe(200);
    const asSet = ({ body }: Awaited<ReturnType<typeof look>>) =>
      (body.diagnosis.causes as { id: string }[]).some(({ id }) => id === 'as-set');
    const [now, then] = [await look(''), await look(`&at=${before}`)];
    expect([asSet(now), asSet(then)]).toEqual([false, true]);
    expect(now.body.then).toBeNull();
    expect(then.body.then).toMatchObject({ status: 'On shift', changed: 2 });
    expect((await look('&at=1000000000000')).status).toBe(404);
    expect((await look('&at=-5')).status).toBe(400);
    expect((await look('&at=1e99')).status).toBe(400);
  } finally {
    await clocked.stop();
  }
});

describe('somebody leaves', () => {
  test('everything that leads there is found, and its changes can be put live', async () => {
    const drill = {
      id: 'tomasz-there',
      name: 'Tomasz answers',
      standsFor: { person: 'tomasz' },
      call: { from: null, at: '2026-11-24T10:00:00-07:00' },
      expect: { kind: 'mailbox' },
    };
    await ask('PUT', '/api/drills/tomasz-there', { drill });
    const { body } = await ask('POST', '/api/people/tomasz/leaving', { successor: 'owen' });
    expect(body.drills).toEqual(['tomasz-there']);
    expect(body.loose.map(({ kind }: { kind: string }) => kind)).toEqual(
      expect.arrayContaining(['plan', 'group', 'line', 'device', 'list', 'greeting', 'drill']),
    );
    expect(body.loose.map(({ where }: { where: { kind: string } }) => where.kind)).toContain('menu');
    const slate = (await ask('POST', '/api/slates', { name: 'Tomasz leaves' })).body.id as number;
    await ask('PUT', `/api/slates/${slate}/entries`, { entries: body.entries });
    await ask('DELETE', '/api/drills/tomasz-there');
    const applied = await ask('POST', `/api/slates/${slate}/apply`, {});
    expect([applied.status, applied.body.message]).toEqual([200, undefined]);
    const owen = (await ask('GET', '/api/people/owen')).body;
    expect(owen.person.lines).toHaveLength(2);
    expect(owen.behind.length).toBeGreaterThan(0);
    const findings = (await ask('GET', '/api/findings')).body.findings as { check: string; says: string }[];
    // What a greeting says must be recorded anew; all else is done.
    expect(findings.filter(({ says }) => says.includes('Tomasz')).map(({ check }) => check)).toEqual([
      'greeting-of-person',
    ]);
  });

  test('a successor who is not there is refused, and only specialists may ask', async () => {
    expect((await ask('POST', '/api/people/ines/leaving', { successor: 'zoe' })).body.faults[0].path).toBe(
      'successor',
    );
    expect((await server.ask('POST', '/api/people/ines/leaving', { as: 'help-desk', body: {} })).status).toBe(
      403,
    );
  });
});

describe('a table of another phone system', () => {
  const compare = (text: string, columns = '') =>
    server.ask('POST', `/api/comparison${columns ? `?columns=${encodeURIComponent(columns)}` : ''}`, {
      as: 'specialist',
      body: new TextEncoder().encode(text),
    });

  test('headings are matched once and remembered', async () => {
    const text = 'Station,Holder,Calls\n4101,Ines Okafor,7\n';
    expect((await compare(text)).body).toMatchObject({
      comparison: null,
      headings: ['Station', 'Holder', 'Calls'],
    });
    const chosen = await compare(text, 'extension:Station,name:Holder,maxCalls:Calls');
    const found = (answer: typeof chosen) =>
      answer.body.comparison.deviations.find(({ id }: { id: string }) => id === 'ines/maxCalls');
    expect(found(chosen)).toMatchObject({ ours: '2', theirs: '7', take: { maxCalls: 7 } });
    expect(found(await compare(text))).toMatchObject({ theirs: '7' });
  });

  test('what is no table is refused with its place', async () => {
    expect((await compare('')).status).toBe(400);
    expect((await compare('Extension,Name\n4101,"open\n')).body.faults[0].path).toMatch(/^line/);
    expect((await compare('a\u0000b')).body.message).toMatch(/no text/);
  });
});
