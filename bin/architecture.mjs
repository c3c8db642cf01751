// npm run architecture [-- --check]: draws the house from the imports themselves, into docs/architecture.svg and the
// tables of docs/architecture.md; with --check it only says whether they are as the imports are. Imports that no rule
// of .dependency-cruiser.cjs allows are told first.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { importsOfAll, root, say, stopWith } from './steps.mjs';

const SIDES = ['app', 'ui', 'api', 'server', 'standins', 'cli', 'demo'];
/** The areas of core whose folders have a front door each. */
const AREAS = ['calls', 'assurance', 'changes', 'devices', 'wire'];
const isTest = (file) => /\.test\.tsx?$|\/tests?\/|^server\/attack\//.test(file);
/** The folder that a file counts for. */
function folderOf(file) {
  const parts = file.split('/').slice(0, -1);
  const [top, next] = parts;
  if (next === undefined || ['api', 'app', 'cli', 'demo'].includes(top)) return top;
  return parts.slice(0, top === 'core' && AREAS.includes(next) ? 3 : 2).join('/');
}
/** Folders that are entered by their `index.ts` only. */
const hasDoor = (folder) => /^(core|server)\/./.test(folder) && folder !== 'core/golden';

const edges = new Map();
const besidesTheDoor = [];
const { files, wrong } = importsOfAll();
if (wrong.length > 0) stopWith(`Imports that no rule allows:\n${wrong.join('\n')}`);
for (const { file, imports } of files) {
  if (isTest(file) || !/^(core|api|server|ui|standins|app|cli|demo)\//.test(file)) continue;
  const from = folderOf(file);
  if (!edges.has(from)) edges.set(from, new Set());
  for (const resolved of imports) {
    const to = folderOf(resolved);
    if (
      resolved.includes('node_modules') ||
      isTest(resolved) ||
      to === from ||
      !/^(core|api|server|ui|standins|app|cli|demo)/.test(to)
    )
      continue;
    edges.get(from).add(to);
    if (hasDoor(to) && resolved !== `${to}/index.ts`) besidesTheDoor.push(`${file} imports ${resolved}`);
  }
}

/** The first circle of folders that is met, as the way along it; null: there is none. */
function circle() {
  const done = new Set();
  const walk = (name, way) => {
    if (way.includes(name)) return [...way.slice(way.indexOf(name)), name];
    if (done.has(name)) return null;
    for (const to of edges.get(name) ?? []) {
      const found = walk(to, [...way, name]);
      if (found) return found;
    }
    done.add(name);
    return null;
  };
  for (const name of edges.keys()) {
    const found = walk(name, []);
    if (found) return found;
  }
  return null;
}
const round = circle();
if (round) stopWith(`Folders make a circle: ${round.join(' → ')}.`);
if (besidesTheDoor.length > 0)
  stopWith(`Only a folder’s index.ts is imported from outside it:\n${besidesTheDoor.join('\n')}`);

/** How many steps a folder stands above the lowest that it rests on; folders of a circle count as one step. */
function layers(names) {
  const within = (name) => [...(edges.get(name) ?? [])].filter((to) => names.includes(to));
  const known = new Map();
  const layerOf = (name, above) => {
    if (known.has(name)) return known.get(name);
    if (above.includes(name)) return 0;
    const layer = Math.max(0, ...within(name).map((to) => layerOf(to, [...above, name]) + 1));
    known.set(name, layer);
    return layer;
  };
  for (const name of names) layerOf(name, []);
  return known;
}

const core = [...edges.keys()].filter((name) => name.startsWith('core/') && !name.endsWith('/golden')).sort();
const layerOf = layers(core);
const rows = [];
for (const name of core) (rows[layerOf.get(name)] ??= []).push(name);
rows.reverse();

const BOX = { width: 158, height: 30, gapX: 14, gapY: 46, left: 20, top: 20 };
const widest = Math.max(...rows.map((row) => row.length));
const width = BOX.left * 2 + widest * BOX.width + (widest - 1) * BOX.gapX;
const height = BOX.top * 2 + rows.length * BOX.height + (rows.length - 1) * BOX.gapY;
const places = new Map();
rows.forEach((row, y) => {
  const begin = (width - row.length * BOX.width - (row.length - 1) * BOX.gapX) / 2;
  row.forEach((name, x) =>
    places.set(name, { x: begin + x * (BOX.width + BOX.gapX), y: BOX.top + y * (BOX.height + BOX.gapY) }),
  );
});
/** What is reached by way of another folder anyway is not drawn: the table has it. */
const reaches = (from, to, seen = new Set()) => {
  if (seen.has(from)) return false;
  seen.add(from);
  return [...(edges.get(from) ?? [])].some((next) => next === to || reaches(next, to, seen));
};
const drawn = core.flatMap((from) => {
  const direct = [...edges.get(from)].filter((to) => places.has(to));
  return direct
    .filter((to) => !direct.some((other) => other !== to && reaches(other, to)))
    .map((to) => [from, to]);
});
const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" font-family="sans-serif" font-size="13">
<rect width="${width}" height="${height}" fill="#fff"/>
${drawn
  .map(([from, to]) => {
    const a = places.get(from);
    const b = places.get(to);
    const [x1, y1, x2, y2] = [a.x + BOX.width / 2, a.y + BOX.height, b.x + BOX.width / 2, b.y];
    return `<path d="M${x1},${y1} C${x1},${y1 + 22} ${x2},${y2 - 22} ${x2},${y2}" fill="none" stroke="#7a8b99"/>`;
  })
  .join('\n')}
${core
  .map((name) => {
    const { x, y } = places.get(name);
    return `<rect x="${x}" y="${y}" width="${BOX.width}" height="${BOX.height}" rx="4" fill="#eef3f6" stroke="#33505f"/><text x="${x + BOX.width / 2}" y="${y + 20}" text-anchor="middle" fill="#14242c">${name.slice(5)}</text>`;
  })
  .join('\n')}
</svg>
`;

const table = (names) =>
  ['| folder | imports |', '| --- | --- |']
    .concat(
      names.map(
        (name) =>
          `| \`${name}\` | ${
            [...(edges.get(name) ?? [])]
              .sort()
              .map((to) => `\`${to}\``)
              .join(', ') || '–'
          } |`,
      ),
    )
    .join('\n');
const begin = '<!-- from here on written by npm run architecture -->';
const path = join(root, 'docs/architecture.md');
const [prose] = readFileSync(path, 'utf8').split(begin);
const outside = [...edges.keys()].filter((name) => SIDES.includes(name.split('/')[0])).sort();
const text = `${prose}${begin}\n\n## Folders of core\n\n${table(core)}\n\n## All other folders\n\n${table(outside)}\n`;

const drawing = join(root, 'docs/architecture.svg');
if (process.argv.includes('--check')) {
  const same = readFileSync(path, 'utf8') === text && readFileSync(drawing, 'utf8') === svg;
  if (!same)
    stopWith(
      'docs/architecture.md and .svg are not as the imports are: npm run architecture draws them anew.',
    );
  say('docs/architecture: as the imports are');
} else {
  writeFileSync(path, text);
  writeFileSync(drawing, svg);
  say(`docs/architecture: ${core.length} folders of core in ${rows.length} layers`);
}
