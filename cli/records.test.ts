import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ESTATE, hostler } from './tests/command-line';

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
