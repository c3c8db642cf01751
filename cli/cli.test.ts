import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { workedCalls } from '../core/tests/worked';
import { buildSync } from 'esbuild';

const root = join(__dirname, '..');
/** The command line in one file, which starts at once. */
const folder = join(root, 'var', `command-line-${process.pid}`);
const program = join(folder, 'hostler.cjs');
beforeAll(() =>
  buildSync({
    absWorkingDir: root,
    entryPoints: ['cli/hostler.ts'],
    outfile: program,
    bundle: true,
    platform: 'node',
    packages: 'external',
  }),
);
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const ESTATE = 'core/golden/estate.json';
const calls = workedCalls();

function hostler(args: string[], input = ''): { code: number | null; out: string; err: string } {
  const run = spawnSync(process.execPath, [program, ...args], {
    cwd: root,
    input,
    encoding: 'utf8',
  });
  return { code: run.status, out: run.stdout, err: run.stderr };
}

test('an array of calls from standard input gives an array of traces, each as worked', () => {
  const run = hostler(
    ['try', '--estate', ESTATE, '--call', '-', '--json'],
    JSON.stringify(calls.map((each) => each.call)),
  );
  expect(run.code).toBe(0);
  const traces = JSON.parse(run.out) as object[];
  expect(traces).toHaveLength(calls.length);
  traces.forEach((trace, i) => expect(trace).toMatchObject(calls[i]!.expect));
});
test('a single call gives a trace, in words without --json', () => {
  const run = hostler(['try', '--estate', ESTATE, '--call', '-'], JSON.stringify(calls[0]!.call));
  expect([run.code, run.out]).toEqual([
    0,
    expect.stringContaining('Dock office phone is answered, 6.2 s after dialling.'),
  ]);
});
test('faults of a call are told each on a line with its path; exit code 2, nothing on standard output', () => {
  const run = hostler(
    ['try', '--estate', ESTATE, '--call', '-', '--json'],
    '[{"from":"4101","to":"4102","at":"now","wrld":{}}]',
  );
  expect(run).toMatchObject({ code: 2, out: '' });
  expect(run.err.trim().split('\n')).toEqual([
    expect.stringMatching(/^\[0\]\.at: must be/),
    expect.stringMatching(/^\[0\]\.wrld: is not a known field/),
  ]);
});
test('an id in the world that nothing has is noted, not refused', () => {
  const call = { ...calls[0]!.call, world: { endpoints: { 'ines-dsk': { state: 'off' } } } };
  const run = hostler(['try', '--estate', ESTATE, '--call', '-', '--json'], JSON.stringify(call));
  expect([run.code, run.err]).toEqual([
    0,
    'note: world.endpoints.ines-dsk: is not in the estate and changes nothing\n',
  ]);
});
test.each([
  [['check', '--estate', '-'], '{"format":1}', /^format: must be "hostler-estate\/1"/],
  [['check', '--estate', '-'], '{', /^-: is not JSON/],
  [['check', '--estate', 'nowhere.json'], '', /^nowhere\.json: cannot be read \(ENOENT\)/],
  [['check'], '', /^--estate FILE is needed/],
  [['check', '--estat', 'x'], '', /--estat/],
  [['try', '--estate', '-', '--call', '-'], '', /only one of/],
  [['dance'], '', /^usage:/],
])('%j is refused', (args, input, message) => {
  const run = hostler(args, input);
  expect(run).toMatchObject({ code: 2, out: '', err: expect.stringMatching(message) });
});
test('check says that an estate has no faults', () => {
  expect(hostler(['check', '--estate', 'demo/skerrow.estate.json'])).toMatchObject({
    code: 0,
    out: expect.stringContaining('no faults; 120 people'),
  });
});
test('vcard writes people as cards, and says so when there is no such person', () => {
  const run = hostler(['vcard', '--estate', ESTATE, '--person', 'ines']);
  expect([run.code, run.out.match(/BEGIN:VCARD/g)?.length]).toEqual([0, 1]);
  expect(run.out).toContain('FN:Ines Okafor');
  expect(hostler(['vcard', '--estate', ESTATE, '--person', 'nobody'])).toMatchObject({ code: 2, out: '' });
});
test('cpl writes a plan as a script with notes, and reads one with faults by line', () => {
  const out = hostler(['cpl', '--estate', ESTATE, '--person', 'ines']);
  expect(out.code).toBe(0);
  expect(out.out).toContain('<cpl xmlns="urn:ietf:params:xml:ns:cpl">');
  expect(out.err).toMatch(/^note: .* is left out/m);
  const back = hostler(['cpl', '--estate', ESTATE, '--person', 'ines', '--script', '-'], out.out);
  expect(back.code).toBe(0);
  expect(JSON.parse(back.out)).toMatchObject({ plan: { otherwise: { ending: { kind: 'mailbox' } } } });
  const bad = hostler(
    ['cpl', '--estate', ESTATE, '--person', 'ines', '--script', '-'],
    '<cpl>\n<!DOCTYPE x>',
  );
  expect(bad).toMatchObject({ code: 2, out: '', err: expect.stringMatching(/^line 2: /) });
  expect(hostler(['cpl', '--estate', ESTATE])).toMatchObject({ code: 2, err: '--person ID is needed\n' });
});
test('dial says what a number is, what is dialled, and whether a line may', () => {
  const dialled = (...args: string[]) => hostler(['dial', '--estate', ESTATE, ...args]);
  expect(dialled('--number', '9 1 778 555 0101', '--uri')).toMatchObject({
    code: 0,
    out: 'tel:+17785550101\n',
  });
  const atHost = (number: string) => dialled('--number', number, '--uri', '--host', 'sip.example').out;
  expect(atHost('9 1 778 555 0101')).toBe('sip:+17785550101@sip.example;user=phone\n');
  expect(atHost('4101')).toBe('tel:4101;phone-context=sip.example\n');
  expect(dialled('--number', 'ines@example.org', '--uri')).toMatchObject({ out: 'sip:ines@example.org\n' });
  const json = dialled('--number', '9 1 778 555 0101', '--person', 'ines', '--json');
  expect([json.code, JSON.parse(json.out)]).toEqual([
    0,
    {
      kind: 'number',
      e164: '+17785550101',
      class: 'national',
      dialAs: '917785550101',
      faults: [],
      notes: [],
      mayDial: expect.objectContaining({ ok: true, class: 'national' }),
    },
  ]);
  expect(dialled('--number', '4101')).toMatchObject({
    code: 0,
    out: expect.stringContaining('extension 4101'),
  });
  expect(dialled('--number', '9 911')).toMatchObject({ code: 1, out: expect.stringContaining('emergency') });
  expect(dialled('--number', '4101', '--person', 'nobody')).toMatchObject({ code: 2, out: '' });
  expect(dialled()).toMatchObject({ code: 2, err: '--number TEXT is needed\n' });
});
test('route traces a call through a table, with why each route passed it on', () => {
  const table = {
    peers: [
      { id: 'desk', name: 'Desk phones', expects: 'any' },
      { id: 'carrier', name: 'Carrier', expects: 'e164' },
    ],
    lists: [],
    routes: [
      {
        id: 'inside',
        name: 'Inside',
        enabled: true,
        when: { dialled: { map: '4xxx' } },
        then: { send: { peer: 'desk' } },
      },
      { id: 'out', name: 'Out', enabled: true, when: {}, then: { send: { peer: 'carrier' } } },
    ],
  };
  const folder = mkdtempSync(join(tmpdir(), 'hostler-cli-'));
  const file = join(folder, 'table.json');
  writeFileSync(file, JSON.stringify(table));
  const call = JSON.stringify({ from: 'desk', dialled: '+12505550101' });
  const json = hostler(['route', '--table', file, '--call', '-', '--json'], call);
  expect([json.code, JSON.parse(json.out)]).toMatchObject([
    0,
    { route: 'out', end: { kind: 'peer', peer: 'carrier' }, passed: [{ route: 'inside' }] },
  ]);
  expect(hostler(['route', '--table', file, '--call', '-'], call).out).toContain(
    'out: +12505550101 -> carrier',
  );
  expect(hostler(['route', '--table', file, '--call', '-'], '{"from":"desk","dialled":"abc"}')).toMatchObject(
    {
      code: 2,
      out: '',
      err: expect.stringContaining('dialled: must be digits'),
    },
  );
  expect(hostler(['route', '--table', '-', '--call', 'x'], '{"peers":[]}')).toMatchObject({
    code: 2,
    out: '',
  });
  const many = hostler(
    ['route', '--table', file, '--call', '-', '--json'],
    `[${call},{"from":"desk","dialled":"4101"}]`,
  );
  expect(JSON.parse(many.out)).toMatchObject([{ route: 'out' }, { route: 'inside' }]);
  rmSync(folder, { recursive: true });
});
test('route --analyse tells what is wrong in a table; peers that are not there are findings, not faults', () => {
  const send = (id: string, peer: string, when: object = {}) => ({
    id,
    name: id,
    enabled: true,
    when,
    then: { send: { peer } },
  });
  const table = JSON.stringify({
    peers: [{ id: 'carrier', name: 'Carrier', expects: 'e164' }],
    lists: [],
    routes: [
      send('all', 'carrier', { dialled: { prefixes: ['+'] } }),
      send('bc', 'gone', { dialled: { prefixes: ['+1604'] } }),
    ],
  });
  const json = hostler(['route', '--table', '-', '--analyse', '--json'], table);
  expect(json.code).toBe(0);
  const { findings, complete } = JSON.parse(json.out) as { findings: object[]; complete: boolean };
  expect(complete).toBe(true);
  expect(findings).toContainEqual(
    expect.objectContaining({ kind: 'unknown-peer', peer: 'gone', route: 'bc' }),
  );
  expect(findings).toContainEqual(
    expect.objectContaining({ kind: 'never-fires', route: 'bc', by: ['all'], example: '+1604' }),
  );
  expect(hostler(['route', '--table', '-', '--analyse'], table).out).toMatch(
    /never-fires bc: bc acts only while|never-fires bc: bc can never act/,
  );
  const folder = mkdtempSync(join(tmpdir(), 'hostler-cli-'));
  writeFileSync(join(folder, 'call.json'), '{"sendsBack":{"carrier":{}}}');
  const round = hostler(
    ['route', '--table', '-', '--analyse', '--call', join(folder, 'call.json'), '--json'],
    table,
  );
  expect(JSON.parse(round.out)).toMatchObject({
    findings: expect.arrayContaining([expect.objectContaining({ kind: 'goes-round', route: 'all' })]),
  });
  expect(hostler(['route', '--table', '-'], table)).toMatchObject({
    code: 2,
    err: expect.stringContaining('--analyse'),
  });
  rmSync(folder, { recursive: true });
});

test('drills are run; JUnit XML names those that fail, and the exit code tells', () => {
  const { call, expect: worked } = calls[0] as {
    call: { to: string };
    expect: { outcome?: { kind: string } };
  };
  const { to: _to, ...rest } = call;
  const drill = (id: string, kind: string) => ({
    id,
    name: `Ends as ${kind}`,
    standsFor: { person: 'ines' },
    call: rest,
    expect: { kind },
  });
  const kind = worked.outcome?.kind ?? 'answered';
  const file = (drills: object[]) => JSON.stringify({ format: 'hostler-drills/1', drills });
  const args = ['drill', '--estate', ESTATE, '--drills', '-'];
  const good = hostler(args, file([drill('a', kind)]));
  expect([good.code, good.out]).toEqual([0, expect.stringContaining('1 hold, 0 fail')]);
  const bad = hostler([...args, '--junit'], file([drill('a', kind), drill('b', 'loop')]));
  expect([bad.code, bad.out]).toEqual([1, expect.stringContaining('<testsuites name="Drills of')]);
  expect(bad.out).toContain('failures="1"');
  expect(hostler(args, file([{ id: 'a' }]))).toMatchObject({ code: 2, out: '' });
});

describe('promises are proved', () => {
  test('each of one person, as JSON; exit code 1 where one is broken, with a call that breaks it', () => {
    const args = ['prove', '--estate', ESTATE, '--person', 'ines', '--at', '2026-11-24T08:00:00Z'];
    const run = hostler(
      [...args, '--promise', '-', '--json'],
      '[{"kind":"no-loop"},{"kind":"rings-within","withinMs":1}]',
    );
    expect(run.code).toBe(1);
    const [loop, rings] = JSON.parse(run.out) as Record<string, unknown>[];
    expect(loop).toMatchObject({ person: 'ines', promise: { kind: 'no-loop' }, holds: true, complete: true });
    expect(loop).not.toHaveProperty('broken');
    expect(rings).toMatchObject({ holds: false, complete: true, broken: { why: expect.any(String) } });
    const { call } = rings!.broken as { call: { from: string } };
    const tried = hostler(['try', '--estate', ESTATE, '--call', '-', '--json'], JSON.stringify(call));
    const { legs } = JSON.parse(tried.out) as { legs: { alertMs: number | null }[] };
    expect(legs.every(({ alertMs }) => alertMs === null || alertMs > 1)).toBe(true);
  });
  test('in words, with how many hold; exit code 0 where all do', () => {
    const run = hostler(
      ['prove', '--estate', ESTATE, '--person', 'ines', '--promise', '-'],
      '[{"kind":"no-loop"}]',
    );
    expect([run.code, run.out.trim().split('\n').at(-1)]).toEqual([
      0,
      '1 hold, 0 are broken, 0 are not proved',
    ]);
  });
  test.each([
    ['[{"kind":"no-such"}]', /^\[0\]: must be a kind of promise/],
    ['[{"kind":"only-inside","schedule":"nights"}]', /^\[0\]\.schedule: .*"nights"/],
    ['{}', /must be a list/],
  ])('a file of promises that is wrong is refused with its path: %s', (input, says) => {
    const run = hostler(['prove', '--estate', ESTATE, '--promise', '-'], input);
    expect([run.code, run.out]).toEqual([2, '']);
    expect(run.err).toMatch(says);
  });
  test('a person who is not there is refused', () => {
    const run = hostler(['prove', '--estate', ESTATE, '--person', 'nobody']);
    expect([run.code, run.err]).toEqual([2, '--person: there is no person "nobody" in the estate\n']);
  });
});

test('path answers for each phone, for one, with a second one, for many networks, and names each fault', () => {
  const worked = JSON.parse(readFileSync(join(root, 'core/golden/networks.json'), 'utf8')) as {
    network: { phones: { id: string }[] };
    phone: string;
    with?: string;
    expect: object;
  }[];
  const many = hostler(
    ['path', '--network', '-', '--json'],
    JSON.stringify(worked.map(({ network }) => network)),
  );
  expect(many.code).toBe(0);
  const answers = JSON.parse(many.out) as { phone: string }[][];
  answers.forEach((phones, at) => {
    const { phone, expect: expected } = worked[at]!;
    expect(phones.map((each) => each.phone)).toEqual(worked[at]!.network.phones.map(({ id }) => id));
    const { phoneToPhone: _both, ...own } = expected as { phoneToPhone?: object };
    expect(phones.find((each) => each.phone === phone)).toMatchObject(own);
  });
  const pair = worked.find((each) => each.with)!;
  const one = hostler(
    ['path', '--network', '-', '--phone', pair.phone, '--with', pair.with!, '--json'],
    JSON.stringify(pair.network),
  );
  expect(JSON.parse(one.out)).toMatchObject([pair.expect]);
  expect(hostler(['path', '--network', '-', '--recommend'], JSON.stringify(pair.network)).out).toContain(
    '1. ',
  );
  const wrong = [worked[0]!.network, { ...worked[0]!.network, colour: 'red' }];
  expect(hostler(['path', '--network', '-'], JSON.stringify(wrong))).toMatchObject({
    code: 2,
    out: '',
    err: expect.stringMatching(/^\[1\]\.colour: is not a known field/),
  });
  expect(
    hostler(['path', '--network', '-', '--phone', 'nobody'], JSON.stringify(pair.network)),
  ).toMatchObject({
    code: 2,
    err: expect.stringContaining('there is no phone “nobody”'),
  });
});

test('quality gives R and MOS, and says of each wrong number what it must be', () => {
  const line = ['quality', '--delay', '40', '--jitter', '0', '--loss', '0', '--codec', 'G.711'];
  const { R, mos } = JSON.parse(hostler([...line, '--json']).out) as { R: number; mos: number };
  expect(R).toBeGreaterThan(90);
  expect(hostler(line).out).toBe(`R ${R.toFixed(1)}, MOS ${mos.toFixed(2)}\n`);
  expect(hostler(['quality', '--delay=-1', '--loss', '101', '--codec', 'opus'])).toMatchObject({
    code: 2,
    out: '',
    err:
      '--delay: must be a number from 0 to 60000\n--jitter: is missing\n--loss: must be a number from 0 to 100\n' +
      '--codec: must be one of G.711, G.711-plc, G.729A\n',
  });
});

test('times, cost, replay and seats answer in words and as JSON, and name what is wrong', () => {
  const record = {
    id: 'a',
    startAt: '2026-11-25T22:20:00Z',
    from: '+16045550100',
    to: '4101',
    outcome: 'answered',
    atMs: 9000,
    talkMs: 61_000,
    legs: [{ endpoint: '+17785550115', dialledMs: 0, alertMs: 2000, endMs: 9000, end: 'connected' }],
  };
  const lines = `${JSON.stringify(record)}\n${JSON.stringify({ ...record, id: 'b', legs: [] })}\n`;
  expect(JSON.parse(hostler(['times', '--records', '-', '--json'], lines).out)).toEqual({
    n: 1,
    answered: 1,
    curve: [{ atMs: 7000, atRisk: 1, answered: 1, share: 1, low: null, high: null }],
  });
  expect(hostler(['times', '--records', '-'], '[{}]')).toMatchObject({
    code: 2,
    err: expect.stringContaining('[0].id:'),
  });
  const folder = mkdtempSync(join(tmpdir(), 'hostler-cli-'));
  const tariff = join(folder, 'tariff.csv');
  writeFileSync(tariff, 'prefix,per minute\n+1,0.0125\n');
  expect(hostler(['cost', '--tariff', tariff, '--records', '-', '--json'], lines)).toMatchObject({
    code: 0,
    out: expect.stringMatching(/^\{"currency":"CAD","total":1271,/),
  });
  writeFileSync(tariff, 'prefix,per minute\n+1,dear\n');
  expect(hostler(['cost', '--tariff', tariff, '--records', '-'], lines)).toMatchObject({
    code: 2,
    err: expect.stringContaining('line 2, column 2: must be a sum'),
  });
  rmSync(folder, { recursive: true });
  const ran = JSON.parse(
    hostler(['replay', '--estate', ESTATE, '--records', '-', '--after', ESTATE, '--json'], lines).out,
  );
  expect(ran).toMatchObject([
    { id: 'a', outcome: { kind: expect.any(String) } },
    { id: 'b', after: { kind: expect.any(String) } },
  ]);
  expect(ran[1].after).toEqual(ran[1].outcome);
  const seats = ['seats', '--calls', '120', '--handle', '180', '--json'];
  expect(JSON.parse(hostler([...seats, '--seats', '7']).out)).toMatchObject({ offered: 6, abandoned: 0 });
  expect(JSON.parse(hostler([...seats, '--trunk', '7']).out)).toEqual({
    offered: 6,
    blocked: expect.closeTo(0.185, 3),
  });
  expect(hostler([...seats, '--seats', '0.5', '--trunk', '3'])).toMatchObject({
    code: 2,
    err: '--seats: must be a whole number from 1 to 10000\none of --seats and --trunk is needed\n',
  });
});
