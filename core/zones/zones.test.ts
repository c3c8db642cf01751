import { IANAZone } from 'luxon';
import { isZone, offsetChanges, zoneNamed, ZONES_VERSION } from '.';
import latest from 'moment-timezone/data/packed/latest.json';
import table from './table.json';

const day = 86_400_000;
const at = (iso: string) => Date.parse(iso);
/** Minutes from UTC, east positive. */
const offsetAt = (name: string, ms: number) => zoneNamed(name).offset(ms);

test('the table is that of a release, and has the zones that people write', () => {
  expect(ZONES_VERSION).toMatch(/^20\d\d[a-z]$/);
  // The package may be behind the table, which can be had from elsewhere too, but not ahead of it.
  expect([latest.version, ZONES_VERSION].sort()).toEqual([latest.version, ZONES_VERSION]);
  for (const name of ['America/Vancouver', 'Europe/London', 'UTC', 'Etc/UTC', 'US/Pacific', 'Asia/Kolkata'])
    expect([name, isZone(name)]).toEqual([name, true]);
  expect(Intl.supportedValuesOf('timeZone').filter((name) => !isZone(name))).toEqual([]);
  expect(zoneNamed('europe/LONDON').name).toBe('Europe/London');
  expect(isZone('Mars/Olympus')).toBe(false);
  expect(() => zoneNamed('Mars/Olympus')).toThrow('no such time zone: Mars/Olympus');
});

test('Vancouver stays at seven hours from November 2026 on', () => {
  expect(offsetAt('America/Vancouver', at('2026-01-15T12:00:00Z'))).toBe(-480);
  expect(offsetAt('America/Vancouver', at('2026-07-15T12:00:00Z'))).toBe(-420);
  for (const iso of ['2026-11-24T22:00:00Z', '2027-01-15T12:00:00Z', '2041-02-01T00:00:00Z'])
    expect(offsetAt('America/Vancouver', at(iso))).toBe(-420);
});

test('the instant of a change belongs to what comes after it', () => {
  const change = at('2026-03-29T01:00:00Z');
  expect([offsetAt('Europe/London', change - 1), offsetAt('Europe/London', change)]).toEqual([0, 60]);
  expect(
    offsetChanges(zoneNamed('Europe/London'), at('2026-01-01T00:00:00Z'), at('2027-01-01T00:00:00Z')),
  ).toEqual([change, at('2026-10-25T01:00:00Z')]);
});

test('what is past is as the machine’s own table has it, for every zone of it', () => {
  const differ: string[] = [];
  for (const name of Object.keys(table.zones)) {
    const own = IANAZone.create(name);
    if (!own.isValid) continue;
    for (let ms = at('1995-01-03T05:00:00Z'); ms < at('2024-12-01T00:00:00Z'); ms += 31 * day)
      if (own.offset(ms) !== offsetAt(name, ms)) differ.push(`${name} ${new Date(ms).toISOString()}`);
  }
  expect(differ).toEqual([]);
});

test.each(['America/New_York', 'Europe/London', 'Australia/Sydney', 'America/Santiago', 'Asia/Jerusalem'])(
  'beyond the last year of the table %s goes on as the machine’s own table does',
  (name) => {
    const own = IANAZone.create(name);
    const differ: string[] = [];
    for (let ms = at('2036-01-01T00:30:00Z'); ms < at('2060-01-01T00:00:00Z'); ms += 0.9 * day)
      if (offsetAt(name, ms) !== own.offset(ms)) differ.push(new Date(ms).toISOString());
    expect(differ).toEqual([]);
  },
);
