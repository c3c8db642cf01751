import fc from 'fast-check';
import { DateTime } from 'luxon';
import { WEEKDAYS, type Schedule } from '../../estate';
import { isInside } from '.';
import { scheduleClock } from './clock';

const clock = fc
  .tuple(fc.integer({ min: 0, max: 23 }), fc.constantFrom('00', '15', '30', '59'))
  .map(([h, m]) => `${String(h).padStart(2, '0')}:${m}`);
const schedule: fc.Arbitrary<Schedule> = fc.record({
  id: fc.constant('s'),
  name: fc.constant('S'),
  timeZone: fc.constantFrom(
    'America/Vancouver',
    'Europe/London',
    'Australia/Lord_Howe',
    'Asia/Kolkata',
    'America/St_Johns',
  ),
  weekly: fc.array(
    fc.record({ days: fc.subarray([...WEEKDAYS], { minLength: 1 }), from: clock, to: clock }),
    { maxLength: 4 },
  ),
  closed: fc.array(fc.constantFrom('2026-03-08', '2026-10-25', '2026-11-01', '2026-12-25')),
  open: fc.array(
    fc.record({ date: fc.constantFrom('2026-03-29', '2026-11-01', '2026-04-05'), from: clock, to: clock }),
    { maxLength: 2 },
  ),
});
const around = fc.constantFrom(
  '2026-03-08',
  '2026-03-29',
  '2026-04-05',
  '2026-10-25',
  '2026-11-01',
  '2026-12-25',
);
const moment = fc
  .tuple(around, fc.integer({ min: -90_000_000, max: 180_000_000 }))
  .map(([date, ms]) => DateTime.fromISO(date, { zone: 'utc' }).toMillis() + ms);

test('a clock says what the schedule says at every moment, over changes of summer time in any zone', () => {
  fc.assert(
    fc.property(schedule, fc.array(moment, { minLength: 20, maxLength: 20 }), (s, moments) => {
      for (const at of moments) expect([at, scheduleClock(s).inside(at)]).toEqual([at, isInside(s, at)]);
    }),
    { numRuns: 300 },
  );
});

test('between a moment and the next change nothing changes, and at the next change it does', () => {
  fc.assert(
    fc.property(schedule, moment, fc.double({ min: 0, max: 1, noNaN: true }), (s, at, part) => {
      const next = scheduleClock(s).nextChange(at);
      if (next === Infinity) return;
      const now = isInside(s, at);
      expect(isInside(s, next)).toBe(!now);
      expect(isInside(s, next - 1)).toBe(now);
      expect(isInside(s, Math.floor(at + (next - 1 - at) * part))).toBe(now);
    }),
    { numRuns: 300 },
  );
});

test('a schedule that never changes has no next change', () => {
  const s: Schedule = { id: 's', name: 'S', timeZone: 'Europe/London', weekly: [] };
  expect(scheduleClock(s).nextChange(Date.parse('2026-11-24T10:00:00Z'))).toBe(Infinity);
});
