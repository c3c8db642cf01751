import { readdirSync } from 'node:fs';
import { resolve } from 'node:path';
import { findTasks, TASKS } from '.';

test.each([
  ['twinning', 'Let a mobile ring with the desk phone'],
  ['VACATION', 'Plan leave from one day to another'],
  ['divert', 'Forward calls always, when busy or on no answer'],
  ['hot desk', 'Sign somebody on at a shared desk'],
  ['did not ring', 'Find out why a phone does not ring'],
  ['csv', 'Add many people from a list'],
])('who asks for %j is led to %j', (query, says) => {
  expect(findTasks(query).map((each) => each.says)).toContain(says);
});
test('all of them without a word, none where nothing fits', () => {
  expect(findTasks('  ')).toEqual(TASKS);
  expect(findTasks('xylophone')).toEqual([]);
});
test('each begins at a page that there is, and no two say the same', () => {
  const app = resolve(__dirname, '../../app');
  const pages = new Set(
    readdirSync(app, { recursive: true, encoding: 'utf8' })
      .filter((file) => file.endsWith('.tsx'))
      .map((file) => `/${file.replace(/\.tsx$/, '').replace(/(^|\/)index$/, '')}`.replace(/(.)\/$/, '$1')),
  );
  for (const { at } of TASKS) expect([...pages]).toContain(at);
  expect(new Set(TASKS.map(({ says }) => says)).size).toBe(TASKS.length);
});
