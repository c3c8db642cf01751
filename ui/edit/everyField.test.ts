import { readdirSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { FIELDS } from '../../core/estate';

/** What the interface shows and computes but nobody types: the file's own mark, and moments that are noted. */
const NOT_TYPED = new Set(['format', 'since']);

function sourcesIn(folder: string): string {
  return readdirSync(folder, { withFileTypes: true })
    .map((each) => {
      const path = join(folder, each.name);
      if (each.isDirectory()) return sourcesIn(path);
      return /\.tsx?$/.test(each.name) && !/\.test\./.test(each.name) ? readFileSync(path, 'utf8') : '';
    })
    .join('\n');
}

interface Branch {
  readonly of?: (() => object) | undefined;
}
/** Every field with the kinds of objects that it stands in, however deep. */
function allFields(): ReadonlyMap<string, ReadonlySet<string>> {
  const found = new Map<string, Set<string>>();
  const seen = new Set<object>();
  const see = (fields: object, where: string) => {
    if (seen.has(fields)) return;
    seen.add(fields);
    for (const [name, field] of Object.entries(fields) as [string, Branch][]) {
      found.set(name, (found.get(name) ?? new Set()).add(where));
      const inner = field.of?.();
      if (inner) see(inner, `${where}.${name}`);
    }
  };
  for (const [kind, fields] of Object.entries(FIELDS)) see(fields, kind);
  return found;
}

const root = resolve(__dirname, '..');
// Editors change the estate by themselves and by the functions of core/editing that they call.
const editors = sourcesIn(root);
const changes = sourcesIn(resolve(root, '../core/editing'));

test('the table of fields is walked to its end', () => {
  const fields = allFields();
  expect(fields.size).toBeGreaterThan(120);
  for (const name of ['acceptAfterMs', 'switchedOff', 'forwardUntil', 'sipAlg', 'areaCodes', 'copyTo'])
    expect([...fields.keys()]).toContain(name);
});

test.each([...allFields()].filter(([name]) => !NOT_TYPED.has(name)).map(([name, at]) => [name, [...at][0]]))(
  '%s, as in %s, is set by an editor',
  (name) => {
    const named = new RegExp(`\\b${name}\\b`);
    expect(named.test(editors) || named.test(changes)).toBe(true);
  },
);
