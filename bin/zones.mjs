// npm run zones [-- FILE]: takes the table of time zones from the package that has it, or from a newer file of the
// same form, and writes what the application reads: server, browser, command line and stand-ins alike.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root, say, stopWith } from './steps.mjs';

const DIGITS = '0123456789abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWX';
/** A number in base 60 with a fraction, as the package writes them. */
function read60(text) {
  const [, sign, whole, fraction = ''] = /^(-?)([^.]*)\.?(.*)$/.exec(text);
  let value = 0;
  for (const digit of whole) value = value * 60 + DIGITS.indexOf(digit);
  [...fraction].forEach((digit, i) => {
    value += DIGITS.indexOf(digit) / 60 ** (i + 1);
  });
  return sign ? -value : value;
}

/** Calls before this are not asked about: what was before is taken as it was then. */
const FROM_MIN = Date.UTC(1990, 0, 1) / 60_000;

/** What comes later is not written down where it goes on in the same way. */
const LAST_YEAR = 2037;

const yearOf = (end) => new Date(end * 60_000).getUTCFullYear();

/**
 * How a zone goes on after the last year that is written down: two changes a year, each as its month (from 0), the
 * weekday, the first day of the month that it can be, the minute by the clock of before, and the offsets before and
 * after. Null: it goes on otherwise, and all of it is written down.
 */
function yearlyOf(ends, turns) {
  const changes = ends.flatMap((end, i) => {
    const [before, after] = [turns[i], turns[i + 1]];
    const local = new Date((end + before) * 60_000);
    const minute = local.getUTCHours() * 60 + local.getUTCMinutes();
    const what = [local.getUTCMonth(), local.getUTCDay(), minute, before, after].join(' ');
    return yearOf(end) > LAST_YEAR ? [{ what, day: local.getUTCDate() }] : [];
  });
  const kinds = [...new Set(changes.map(({ what }) => what))];
  if (changes.length < 100 || kinds.length !== 2) return null;
  const rules = kinds.map((what) => {
    const days = changes.filter((each) => each.what === what).map(({ day }) => day);
    const first = Math.min(...days);
    if (Math.max(...days) > first + 6) return null;
    const [month, weekday, ...rest] = what.split(' ');
    return [month, weekday, first, ...rest].join(' ');
  });
  return rules.includes(null) ? null : rules.join(',');
}

/** A zone as offsets from UTC in minutes, which of them holds in turn, and the minutes between the changes. */
function zoneOf(line) {
  const [name, , offsets, indices, untils = ''] = line.split('|');
  const minutes = offsets.split(' ').map((each) => -Math.round(read60(each)));
  const turns = [...indices].map((digit) => minutes[DIGITS.indexOf(digit)]);
  let at = 0;
  const ends = untils
    .split(' ')
    .filter(Boolean)
    .map((each, i) => (at = i === 0 ? Math.round(read60(each)) : at + Math.round(read60(each))));
  const skipped = ends.filter((end) => end < FROM_MIN).length;
  const yearly = yearlyOf(ends, turns);
  if (yearly !== null) ends.splice(ends.findIndex((end) => yearOf(end) > LAST_YEAR));
  const kept = turns.slice(skipped, ends.length + 1);
  const known = [...new Set(kept)];
  let before = FROM_MIN;
  const gaps = ends.slice(skipped).map((end) => {
    const gap = end - before;
    before = end;
    return gap.toString(36);
  });
  return [
    name,
    [
      known.join(' '),
      kept.map((each) => known.indexOf(each).toString(36)).join(''),
      gaps.join(' '),
      ...(yearly === null ? [] : [yearly]),
    ].join('|'),
  ];
}

const file = process.argv[2] ?? join(root, 'node_modules/moment-timezone/data/packed/latest.json');
let data;
try {
  data = JSON.parse(readFileSync(file, 'utf8'));
} catch (error) {
  stopWith(`${file} cannot be read: ${error.message}`);
}
if (typeof data.version !== 'string' || !Array.isArray(data.zones) || !Array.isArray(data.links))
  stopWith(`${file} is no table of time zones in the packed form of moment-timezone.`);
const table = {
  version: data.version,
  zones: Object.fromEntries(data.zones.map(zoneOf)),
  links: Object.fromEntries(data.links.map((link) => link.split('|').reverse())),
};
writeFileSync(join(root, 'core/zones/table.json'), `${JSON.stringify(table, null, 1)}\n`);
say(`time zones: IANA ${table.version}, ${Object.keys(table.zones).length} zones`);
