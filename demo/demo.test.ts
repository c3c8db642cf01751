import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { departures } from '../core/editing';
import { analyseTable, readEstateFile } from '../core/routes';
import { matchColumns, readCsv, staffPlanner } from '../core/formats';
import { compileEstate } from '../core/calls/engine';
import { judgeReach } from '../core/calls/views';
import { instantOf } from '../core/calls/time';
import { skerrowSoundFerries } from './skerrow';

const text = readFileSync(join(__dirname, 'skerrow.estate.json'), 'utf8');
const estate = skerrowSoundFerries();

test('the file is what the generator makes, and has no faults', () => {
  expect(JSON.parse(text)).toEqual(estate);
  expect(readEstateFile(JSON.parse(text))).toMatchObject({ ok: true });
});
test('about 120 people, some of each state, and each mistake where it was put', () => {
  const index = compileEstate(estate);
  const now = instantOf('2026-11-24T10:00:00-07:00')!;
  const judged = new Map(estate.people.map((p) => [p.id, judgeReach(index, p, now)]));
  expect(estate.people).toHaveLength(120);
  expect(judged.get('ines')).toMatchObject({ state: 'reached' });
  expect(judged.get('ruth')).toMatchObject({ state: 'at-risk', why: expect.stringContaining('permission') });
  expect(judged.get('mateo')).toMatchObject({ state: 'at-risk', why: expect.stringContaining('guard') });
  expect(judged.get('owen')).toMatchObject({ state: 'lost', why: expect.stringContaining('voicemail') });
  expect(judged.get('callum')).toMatchObject({ state: 'lost', why: expect.stringContaining('went round') });
  expect([...judged.values()].filter((j) => j.state === 'reached').length).toBeGreaterThan(60);
});
test('the route table has the mistakes that were put there', () => {
  const { routing, schedules } = estate;
  const { findings } = analyseTable(
    { ...routing!, schedules },
    { fromMs: instantOf('2026-11-24T10:00:00-07:00')! },
  );
  const kinds = new Map(findings.map(({ kind, route }) => [`${kind} ${route ?? ''}`, true]));
  for (const each of [
    'never-fires yard-late',
    'fork-bypassed both',
    'wrong-form own',
    'goes-round fleet-numbers',
    'partly-covered home',
  ])
    expect([each, kinds.has(each)]).toEqual([each, true]);
});
test('the crews follow templates, and two deck hands have departed from theirs', () => {
  const departed = (estate.templates ?? []).map((template) => {
    const followers = estate.people.filter((person) => person.template === template.id);
    expect(followers.length).toBeGreaterThan(4);
    return followers.filter((person) => departures(template, person).length > 0).length;
  });
  expect((estate.templates ?? []).map(({ id }) => id).sort()).toEqual([
    'agents-early',
    'agents-late',
    'agents-night',
    'bookings-home',
    'deck-crew',
    'engine-crew',
    'season',
  ]);
  expect(departed.reduce((sum, n) => sum + n, 0)).toBe(2);
});
test('the demo staff list has rows of every kind', () => {
  const read = readCsv(readFileSync(join(__dirname, 'new-crew.csv'), 'utf8'));
  if (!read.ok) throw new Error('unreadable');
  const planner = staffPlanner(estate, matchColumns(read.table.headings));
  expect(read.table.rows.map((row) => planner.planRow(row).action)).toEqual([
    'create',
    'create',
    'create',
    'change',
    'refuse',
    'refuse',
    'refuse',
    'refuse',
  ]);
});
