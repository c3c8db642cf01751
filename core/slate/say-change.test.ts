import { sayPath, sayValue, sayWhere } from '.';

test.each([
  ['maxCalls', 'calls at once'],
  ['plan.rules[r-office].stages[0].ring[ines-mobile].acceptAfterMs', 'r-office, ines-mobile: guard'],
  ['plan.rules.order', 'order'],
  ['lines[l-4101].forwardAll', 'l-4101: always-forward'],
  ['unheard', 'unheard'],
])('the place %s is said as %s', (path, says) => {
  expect(sayPath(path)).toBe(says);
});

test.each([
  [undefined, 'none'],
  [null, 'none'],
  [true, 'on'],
  [25_000, '25 s'],
  [3, '3'],
  ['+17785550101', '+1 778 555 0101'],
  [['a', 'b'], 'a, b'],
  [{ id: 'r', name: 'Night', stages: [] }, '“Night”'],
  [{ kind: 'person', person: 'ben' }, 'person ben'],
  [{ kind: 'mailbox' }, 'mailbox'],
  [[{ a: 'x'.repeat(100) }], `${JSON.stringify([{ a: 'x'.repeat(100) }]).slice(0, 79)}…`],
])('a value is said short (%#)', (value, says) => {
  expect(sayValue(value)).toBe(says);
});

test('a rule that comes or goes is said as such, by its name and not its id', () => {
  const rule = { id: 'r-night', name: 'Night' };
  const path = 'plan.rules[r-night]';
  expect(sayWhere({ path, before: undefined, after: rule })).toBe('new rule');
  expect(sayWhere({ path, before: rule, after: undefined })).toBe('rule taken out');
  expect(sayWhere({ path: `${path}.name`, before: 'Night', after: 'Day' })).toBe('r-night: name');
});
