import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { isFieldsKind } from '../../core/estate';
import { fieldLabel } from './fieldLabel';

const sources = (folder: string): readonly string[] =>
  readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    return statSync(path).isDirectory() ? sources(path) : /\.tsx$/.test(name) ? [path] : [];
  });

test('every label that is taken from the table of fields stands there', () => {
  const used = sources(join(__dirname, '..')).flatMap((path) =>
    [...readFileSync(path, 'utf8').matchAll(/fieldLabel\('(\w+)', '([\w.]+)'\)/g)].map(
      ([, kind, field]) => [kind!, field!] as const,
    ),
  );
  expect(used.length).toBeGreaterThan(30);
  for (const [kind, path] of used) {
    expect([kind, isFieldsKind(kind)]).toEqual([kind, true]);
    if (isFieldsKind(kind)) expect(fieldLabel(kind, path)).toMatch(/^[A-Z]/);
  }
});

test('what is called by several editors is called alike, and a setting that is not there is a fault', () => {
  expect(fieldLabel('person', 'plan.otherwise.stages.ring.acceptAfterMs')).toBe(
    fieldLabel('template', 'plan.otherwise.stages.ring.acceptAfterMs'),
  );
  expect(() => fieldLabel('person', 'plan.otherwise.nothing')).toThrow('has no setting');
});
