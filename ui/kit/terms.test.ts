import { readdirSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { TERMS } from '../../core/glossary';

test('every term is explained by a ? somewhere in the application', () => {
  const ui = resolve(__dirname, '..');
  const text = readdirSync(ui, { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.tsx'))
    .map((file) => readFileSync(join(ui, file), 'utf8'))
    .join('');
  const isThere = (id: string) => new RegExp(`term(=|: )[{"']+${id}["']`).test(text);
  expect(isThere('no-such-term')).toBe(false);
  expect(TERMS.filter(({ id }) => !isThere(id)).map(({ id }) => id)).toEqual([]);
});
