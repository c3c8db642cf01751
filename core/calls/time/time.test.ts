import { DateTime } from 'luxon';
import type { Schedule } from '../../estate';
import { instantOf, isInside, isoIn } from '.';
import { zoneNamed } from '../../zones';

const zone = 'America/Vancouver';
const at = (text: string) => DateTime.fromISO(text, { zone: zoneNamed(zone) }).toMillis();
const schedule = (more: Partial<Schedule>): Schedule => ({
  id: 's',
  name: 'S',
  timeZone: zone,
  weekly: [],
  ...more,
});

describe('weekly hours', () => {
  const office = schedule({ weekly: [{ days: ['mon', 'tue'], from: '08:00', to: '17:00' }] });
  test.each([
    ['2026-11-23T08:00:00.000', true],
    ['2026-11-23T07:59:59.999', false],
    ['2026-11-24T16:59:59.999', true],
    ['2026-11-24T17:00:00.000', false],
    ['2026-11-25T09:00:00.000', false],
  ])('half open, on their days only: %s is %s', (text, inside) => {
    expect(isInside(office, at(text))).toBe(inside);
  });

  const night = schedule({ weekly: [{ days: ['fri'], from: '22:00', to: '06:00' }] });
  test.each([
    ['2026-11-27T22:00:00', true],
    ['2026-11-28T05:59:00', true],
    ['2026-11-28T06:00:00', false],
    ['2026-11-28T22:30:00', false],
    ['2026-11-27T05:00:00', false],
  ])('a span past midnight belongs to the day it begins on: %s is %s', (text, inside) => {
    expect(isInside(night, at(text))).toBe(inside);
  });

  test('equal times make a whole day', () => {
    const day = schedule({ weekly: [{ days: ['wed'], from: '06:00', to: '06:00' }] });
    expect(isInside(day, at('2026-11-25T06:00:00'))).toBe(true);
    expect(isInside(day, at('2026-11-26T05:59:00'))).toBe(true);
    expect(isInside(day, at('2026-11-26T06:00:00'))).toBe(false);
  });
});

describe('closed and open dates', () => {
  const every = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const;
  const nights = schedule({
    weekly: [{ days: every, from: '22:00', to: '06:00' }],
    closed: ['2026-12-25'],
    open: [{ date: '2026-12-25', from: '23:00', to: '01:00' }],
  });
  test.each([
    ['2026-12-25T02:00:00', false, 'outside as a whole, even where the night before runs into it'],
    ['2026-12-25T22:30:00', false, 'no weekly span begins on it'],
    ['2026-12-25T23:30:00', true, 'extra opening beats closed'],
    ['2026-12-26T00:30:00', true, 'extra opening runs past midnight'],
    ['2026-12-26T02:00:00', false, 'no span began the evening before'],
    ['2026-12-24T23:00:00', true, 'the evening before is as ever'],
  ])('%s is %s: %s', (text, inside) => {
    expect(isInside(nights, at(text))).toBe(inside);
  });
});

describe('daylight saving', () => {
  test('the wall clock decides on both sides of the change, in each zone', () => {
    for (const [timeZone, before, after] of [
      ['America/Vancouver', '2026-03-07', '2026-03-09'],
      ['America/New_York', '2027-03-13', '2027-03-15'],
      ['Europe/Berlin', '2027-03-27', '2027-03-29'],
      ['Australia/Sydney', '2027-04-03', '2027-04-05'],
    ] as const) {
      const early = schedule({ timeZone, weekly: [{ days: ['sat', 'mon'], from: '05:00', to: '05:30' }] });
      for (const date of [before, after]) {
        const wall = (time: string) =>
          DateTime.fromISO(`${date}T${time}`, { zone: zoneNamed(timeZone) }).toMillis();
        expect(
          [wall('04:59'), wall('05:00'), wall('05:29'), wall('05:30')].map((ms) => isInside(early, ms)),
        ).toEqual([false, true, true, false]);
      }
    }
  });
  test('an hour that comes twice is inside both times', () => {
    const one = schedule({ weekly: [{ days: ['sun'], from: '01:00', to: '02:00' }] });
    expect(isInside(one, Date.parse('2025-11-02T08:30:00Z'))).toBe(true);
    expect(isInside(one, Date.parse('2025-11-02T09:30:00Z'))).toBe(true);
    expect(isInside(one, Date.parse('2025-11-02T10:00:00Z'))).toBe(false);
  });
});

test('an instant needs its offset, and is given back with that of a zone', () => {
  expect(instantOf('2026-11-24T14:20:00')).toBeNull();
  expect(instantOf('2026-13-24T14:20:00Z')).toBeNull();
  expect(instantOf('yesterday')).toBeNull();
  const ms = instantOf('2026-11-24T22:20:00Z')!;
  expect(isoIn(ms, zone)).toBe('2026-11-24T15:20:00-07:00');
  expect(isoIn(ms, 'America/Los_Angeles')).toBe('2026-11-24T14:20:00-08:00');
  expect(instantOf('2026-11-24T14:20-08:00')).toBe(ms);
});
