import type { Person } from '../../core/estate';
import { testServer, type TestServer } from '../test';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.stop());
const ask = (method: string, path: string, body?: unknown) =>
  server.ask(method, path, { as: 'specialist', ...(body === undefined ? {} : { body }) });
interface Shown {
  readonly key: string;
  readonly check: string;
  readonly says: string;
  readonly isOpen: boolean;
  readonly mend: string | null;
  readonly subject: { readonly id: string };
}
const findings = async (query = '') => (await ask('GET', `/api/findings${query}`)).body.findings as Shown[];

test('the demo’s mistakes are found; a mend goes onto a slate, and once live the finding is gone', async () => {
  const all = await findings();
  const one = all.find(({ check, subject }) => check === 'forward-forgotten' && subject.id === 'amara')!;
  expect(one).toMatchObject({ isOpen: true, mend: 'Switch call forwarding off' });
  const mend = await ask('POST', '/api/findings/mend', { key: one.key });
  const slate = (await ask('POST', '/api/slates', { name: 'Mends' })).body.id as number;
  await ask('PUT', `/api/slates/${slate}/entries`, { entries: mend.body.entries });
  expect((await ask('POST', `/api/slates/${slate}/apply`, {})).status).toBe(200);
  const after = await findings();
  expect(after.map(({ key }) => key)).not.toContain(one.key);
  // Only what the change can affect was looked at again; all others are as they were.
  const others = (list: readonly Shown[]) =>
    list.filter(({ subject }) => subject.id !== 'amara').map(({ key, says }) => `${key} ${says}`);
  expect(others(after)).toEqual(others(all));
});

test('a finding is assigned, put off, accepted with a reason, and all of it is recorded', async () => {
  const [first] = await findings('?subject=person/owen');
  const mark = (body: object) => ask('PUT', '/api/findings/mark', { key: first!.key, ...body });
  expect((await mark({ assignee: 'mara' })).body.finding).toMatchObject({
    isOpen: true,
    mark: { assignee: 'mara' },
  });
  expect((await mark({ putOffUntil: '2026-12-01' })).body.finding).toMatchObject({
    isOpen: false,
    mark: { assignee: 'mara' },
  });
  expect((await mark({ putOffUntil: '2026-11-01' })).body.finding.isOpen).toBe(true);
  expect((await mark({ putOffUntil: 'soon' })).body.faults[0].path).toBe('putOffUntil');
  expect((await mark({ acceptedWhy: ' ' })).body.faults[0].path).toBe('acceptedWhy');
  expect((await mark({ acceptedWhy: 'he wants his carrier’s voicemail' })).body.finding.isOpen).toBe(false);
  const record = (await ask('GET', '/api/record?person=owen&kind=finding-marked')).body.entries as {
    why: string;
  }[];
  expect(record[0]!.why).toBe('he wants his carrier’s voicemail');
  expect((await mark({ assignee: null, putOffUntil: null, acceptedWhy: null })).body.finding.mark).toBeNull();
  expect((await ask('PUT', '/api/findings/mark', { key: 'none' })).status).toBe(404);
});

test('private numbers in findings are masked for those who may not see them', async () => {
  const text = (await server.ask('GET', '/api/findings', { as: 'manager' })).text;
  expect((await server.ask('GET', '/api/findings', { as: 'specialist' })).text).toContain('672 555 0105');
  expect(text).not.toContain('672 555 0105');
});

test('restarts are owed for what a phone takes up only then, planned for the night, and noted', async () => {
  const page = await ask('GET', '/api/people/ruth');
  const person = page.body.person as Person;
  const lines = person.lines.map((line, i) => (i === 0 ? { ...line, extension: '4777' } : line));
  await ask('PUT', '/api/people/ruth', { version: page.body.version, person: { ...person, lines } });
  const owed = (await ask('GET', '/api/restarts')).body.owed as { endpoint: string; says: string }[];
  expect(owed).toMatchObject([
    {
      endpoint: 'ruth-desk',
      says: expect.stringContaining('registers as 4103 until restarted, then as 4777'),
    },
  ]);
  expect((await findings('?subject=person/ruth')).map(({ check }) => check)).toContain('restart-owed');
  const plan = (when: string) => ask('POST', '/api/restarts', { endpoints: ['ruth-desk'], when });
  expect((await plan('tonight')).body.owed[0].restartAt).toBe('2026-11-25T10:00:00.000Z');
  expect((await plan('not')).body.owed[0].restartAt).toBeNull();
  expect((await plan('now')).body.owed).toEqual([]);
  expect((await findings('?subject=person/ruth')).map(({ check }) => check)).not.toContain('restart-owed');
  expect((await plan('now')).status).toBe(409);
  const back = await ask('GET', '/api/people/ruth');
  await ask('PUT', '/api/people/ruth', { version: back.body.version, person });
  expect((await ask('GET', '/api/restarts')).body.owed).toHaveLength(1);
});
