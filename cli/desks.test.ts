import { hostler } from './tests/command-line';

const DEMO = 'demo/skerrow.estate.json';
const args = ['desks', '--estate', DEMO, '--site', 'harbour', '--week', '2026-11-25'];

test('desks tells each half hour of the week, from Monday, and how many desks a chance asks for', () => {
  const run = hostler([...args, '--json']);
  expect(run.code).toBe(0);
  const told = JSON.parse(run.out) as {
    desks: number;
    needed: number;
    halfHours: { from: string; expected: number; chance: number }[];
  };
  expect([told.desks, told.halfHours.length, told.halfHours[0]?.from]).toEqual([
    17,
    336,
    '2026-11-23T00:00:00-07:00',
  ]);
  const worst = told.halfHours.reduce((most, { chance }) => Math.max(most, chance), 0);
  expect(worst).toBeGreaterThan(0.01);
  expect(told.needed).toBeGreaterThan(17);
  const rarely = JSON.parse(hostler([...args, '--chance', '1e-6', '--json']).out) as { needed: number };
  expect(rarely.needed).toBeGreaterThan(told.needed);
  const always = JSON.parse(hostler([...args, '--chance', '1', '--json']).out) as { needed: number };
  expect(always.needed).toBe(0);
});

test('in words: how many there are, how many are needed, the worst half hour, and what is promised', () => {
  expect(hostler(args).out).toMatch(
    /^17 desks; \d+ keep the chance of finding none at 0\.01 or less\nworst: 2026-11-\d\dT\d\d:\d0:00-07:00, [\d.]+ people expected, [\d.]+ % find none\nbroken: Nobody of Early shift is without a desk \(99 %\); \d+ desks keep it, and there are 17\nholds: Nobody of Late shift is without a desk \(99 %\); \d+ of the 17 desks would do\n$/,
  );
});

test.each([
  [['desks', '--site', 'harbour'], /^--estate FILE is needed/],
  [['desks', '--estate', DEMO], /^--site: is missing/],
  [['desks', '--estate', DEMO, '--site', 'moon'], /^--site: there is no site "moon"/],
  [[...args.slice(0, 5), '--week', 'soon'], /^--week: must be a date/],
  [[...args, '--chance', '0'], /^--chance: must be a number over 0/],
  [[...args, '--chance', '2'], /^--chance: must be a number over 0/],
])('%j is refused', (given, says) => {
  const run = hostler(given);
  expect([run.code, run.out]).toEqual([2, '']);
  expect(run.err).toMatch(says);
});
