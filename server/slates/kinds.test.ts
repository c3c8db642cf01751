import { demoEstate, testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer({ ...demoEstate(), timeZone: 'Europe/Berlin' });
});
afterAll(() => server.stop());

const ask = (method: string, path: string, body?: unknown) =>
  server.ask(method, path, { as: 'specialist', body });
const object = async (kind: string, id: string) =>
  (await ask('GET', `/api/objects/${kind}/${id}`)).body.object;
async function newSlate(name: string): Promise<string> {
  const { body } = await ask('POST', '/api/slates', { name });
  return `/api/slates/${String(body.slate?.id ?? body.id)}`;
}

test('the order of trunks goes onto a slate, is refused when it was changed since, and is recorded', async () => {
  const before = (await ask('GET', '/api/dialling')).body.trunks.map(
    ({ id }: { id: string }) => id,
  ) as string[];
  const after = [...before].reverse();
  const [first, second] = [await newSlate('Order'), await newSlate('The same')];
  for (const slate of [first, second])
    expect(
      (await ask('PUT', `${slate}/entries/trunk-order/trunk-order`, { base: before, after })).status,
    ).toBe(200);
  const applied = await ask('POST', `${first}/apply`, { overrule: 'for the test' });
  expect(applied.status).toBe(200);
  const now = (await ask('GET', '/api/dialling')).body.trunks.map(({ id }: { id: string }) => id) as string[];
  expect(now).toEqual(after);
  const record = await ask('GET', '/api/record?kind=order-set');
  expect(record.body.entries[0]).toMatchObject({ who: 'specialist', slateId: expect.any(Number) });
  const third = await newSlate('Too late');
  await ask('PUT', `${third}/entries/trunk-order/trunk-order`, { base: before, after: ['overseas'] });
  expect((await ask('POST', `${third}/apply`, { overrule: 'for the test' })).status).toBe(409);
  expect(
    (await ask('PUT', `${third}/entries/trunk-order/trunk-order`, { base: before, after: 7 })).status,
  ).toBe(400);
});

test('promises go onto a slate', async () => {
  const { promises } = (await ask('GET', '/api/proofs')).body;
  const slate = await newSlate('Fewer promises');
  const after = promises.slice(1);
  expect((await ask('PUT', `${slate}/entries/promises/promises`, { base: promises, after })).status).toBe(
    200,
  );
  expect((await ask('POST', `${slate}/apply`, { overrule: 'for the test' })).status).toBe(200);
  expect((await ask('GET', '/api/proofs')).body.promises).toEqual(after);
});

test('a slate is set for a reading of the organisation’s clock; one that the clocks skip is refused beside the field', async () => {
  const slate = await newSlate('In the morning');
  const set = (dueLocal: string) => ask('PUT', slate, { dueLocal });
  const { body } = await set('2026-11-30T06:00');
  expect(body.slate).toMatchObject({ state: 'timed' });
  expect(Date.parse(body.slate.dueAt)).toBe(Date.parse('2026-11-30T06:00:00+01:00'));
  // Clocks in Berlin go from 02:00 to 03:00 on the last Sunday of March.
  const skipped = await set('2027-03-28T02:30');
  expect(skipped.body.faults[0]).toMatchObject({
    path: 'dueLocal',
    message: expect.stringContaining('skipped'),
  });
  for (const wrong of ['2026-11-31T06:00', 'soon', '2020-01-01T06:00']) {
    const refused = await set(wrong);
    expect(refused.status).toBe(400);
    expect(refused.body.faults[0].path).toMatch(/^due/);
  }
});

/** As files of before have it: who is signed on stands with the phone. */
async function signedOnAsBefore(): Promise<void> {
  const { version, object: device } = (await ask('GET', '/api/objects/device/shared-desk-1')).body;
  const person = demoEstate().people.find(({ template }) => template === 'agents-early')!.id;
  const signedOn = { person, since: '2026-11-23T05:02:00-07:00' };
  const after = { ...device, signedOn };
  expect((await ask('PUT', '/api/objects/device/shared-desk-1', { version, object: after })).status).toBe(
    200,
  );
}

test('a phone as a thing is changed, put on a slate with a finding’s mend, and its faults are told', async () => {
  await signedOnAsBefore();
  const device = await object('device', 'shared-desk-1');
  expect(device.signedOn).toBeDefined();
  const findings = await ask('GET', '/api/findings?subject=device%2Fshared-desk-1');
  const [found] = findings.body.findings;
  expect(found).toMatchObject({ check: 'desk-left-signed-on', mend: expect.stringMatching(/^sign .* off$/) });
  const slate = await newSlate('Tidy desks');
  const { signedOn: _gone, ...bare } = device;
  expect(
    (await ask('PUT', `${slate}/entries/device/shared-desk-1`, { base: device, after: bare })).status,
  ).toBe(200);
  expect((await ask('POST', `${slate}/apply`, {})).status).toBe(200);
  expect(await object('device', 'shared-desk-1')).toEqual(bare);
  const again = await ask('GET', '/api/findings?subject=device%2Fshared-desk-1');
  expect(again.body.findings).toEqual([]);
});

test.each([
  [{ macAddress: '02F0' }, 'macAddress'],
  [{ firmware: 'new' }, 'firmware'],
  [{ endpoint: 'nobody' }, 'endpoint'],
  [{ site: 'nowhere' }, 'site'],
  [{ colour: 'green' }, 'colour'],
])('a phone with %j is refused beside the field', async (more, path) => {
  const page = (await ask('GET', '/api/objects/device/shared-desk-1')).body;
  const { status, body } = await ask('PUT', '/api/objects/device/shared-desk-1', {
    version: page.version,
    object: { ...page.object, ...more },
  });
  expect([status, body.faults[0].path]).toEqual([400, path]);
});

test('two phones cannot have one hardware address, and a site that phones stand at cannot be removed', async () => {
  const relay = await object('device', 'north-landing-relay');
  const page = (await ask('GET', '/api/objects/device/shared-desk-1')).body;
  const { status, body } = await ask('PUT', '/api/objects/device/shared-desk-1', {
    version: page.version,
    object: { ...page.object, macAddress: relay.macAddress },
  });
  expect(status).toBe(400);
  expect(body.faults[0].message).toContain('belongs to North Landing ticket office');
  expect((await ask('DELETE', '/api/objects/site/north-landing')).status).toBe(409);
});
