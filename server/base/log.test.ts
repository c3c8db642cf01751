import { aboutError, onceAMinute } from './log';

test('an error of the database is told without its values', async () => {
  const error = Object.assign(new Error("Duplicate entry '+17785550101' for key 'e164'"), {
    code: 'ER_DUP_ENTRY',
    errno: 1062,
    sqlState: '23000',
    sql: "INSERT INTO line_number VALUES ('+17785550101')",
  });
  const told = JSON.stringify(aboutError(error));
  expect(told).not.toContain('7785550101');
  expect(told).toContain('ER_DUP_ENTRY');
});

test('the same thing is said once a minute, with how often it was so', () => {
  const lines: [object, string][] = [];
  let now = 0;
  const say = onceAMinute(
    { warn: (about: object, what: string) => lines.push([about, what]) } as never,
    () => now,
  );
  for (let n = 0; n < 1000; n += 1) say('the database does not answer');
  say('another');
  expect(lines.map(([, what]) => what)).toEqual(['the database does not answer', 'another']);
  now = 61_000;
  say('the database does not answer');
  expect(lines.at(-1)).toEqual([{ timesBefore: 999 }, 'the database does not answer']);
});
