import { ESTATE, hostler } from './tests/command-line';
import { workedCalls } from '../core/tests/worked';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const calls = workedCalls();

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
