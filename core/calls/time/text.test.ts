import fc from 'fast-check';
import { WEEKDAYS, type Schedule } from '../../estate';
import { hoursAsText, readHoursText, toggleHour } from './text';
import { isInside } from '.';

const clock = fc
  .tuple(fc.integer({ min: 0, max: 23 }), fc.constantFrom('00', '15', '59'))
  .map(([h, m]) => `${String(h).padStart(2, '0')}:${m}`);
const days = fc.subarray([...WEEKDAYS], { minLength: 1 });
const date = fc.constantFrom('2026-12-25', '2027-01-01', '2027-02-28');
const hours = fc
  .record({
    weekly: fc.array(fc.record({ days, from: clock, to: clock }), { maxLength: 4 }),
    closed: fc.option(fc.array(date, { minLength: 1, maxLength: 3 }), { nil: undefined }),
    open: fc.option(fc.array(fc.record({ date, from: clock, to: clock }), { minLength: 1, maxLength: 2 }), {
      nil: undefined,
    }),
  })
  .map(
    (h) => Object.fromEntries(Object.entries(h).filter(([, v]) => v !== undefined)) as unknown as Schedule,
  );

test('what is written is read back the same', () => {
  fc.assert(
    fc.property(hours, (h) => {
      expect(readHoursText(hoursAsText(h))).toEqual({ ok: true, hours: h });
    }),
  );
});
test('neighbouring days are drawn together; capitals, long names, notes and 24:00 are read', () => {
  const read = readHoursText('Monday-Friday 8:00 - 17:00 # office\n\nSat,Sun 22:00-24:00\nCLOSED 2026-12-25');
  expect(read).toMatchObject({ ok: true, hours: { closed: ['2026-12-25'] } });
  if (read.ok)
    expect(hoursAsText(read.hours)).toBe('mon-fri 08:00-17:00\nsat, sun 22:00-00:00\nclosed 2026-12-25');
  expect(readHoursText('fri-mon 10:00-11:00')).toMatchObject({
    ok: true,
    hours: { weekly: [{ days: ['mon', 'fri', 'sat', 'sun'] }] },
  });
});
test.each([
  ['mon-fri', 'line 1'],
  ['mon 08:00-17:00\nmon 25:00-26:00', 'line 2'],
  ['closed 2026-02-30', 'line 1'],
  ['closed 2026-12-25 09:00-10:00', 'line 1'],
  ['open 2026-12-25', 'line 1'],
  ['someday 08:00-17:00', 'line 1'],
  ['08:00-17:00', 'line 1'],
])('%j is told by its line', (text, path) => {
  expect(readHoursText(text)).toMatchObject({ ok: false, faults: [{ path }] });
});
test('an hour turned round is the other way then, and every other hour stays', () => {
  const at = (day: number, hour: number) => Date.UTC(2026, 10, 23 + day, hour, 1);
  fc.assert(
    fc.property(hours, fc.integer({ min: 0, max: 6 }), fc.integer({ min: 0, max: 23 }), (h, day, hour) => {
      // Spans on whole hours, so that an hour is inside or outside as a whole.
      const whole = h.weekly.map((s) => ({
        ...s,
        from: `${s.from.slice(0, 2)}:00`,
        to: `${s.to.slice(0, 2)}:00`,
      }));
      const own = whole.filter((s) => s.to > s.from);
      const before: Schedule = { id: 's', name: 'S', timeZone: 'UTC', weekly: own };
      const after = { ...before, ...toggleHour(before, WEEKDAYS[day]!, hour) };
      for (let d = 0; d < 7; d += 1)
        for (let t = 0; t < 24; t += 1) {
          const turned = d === day && t === hour;
          expect([d, t, isInside(after, at(d, t))]).toEqual([d, t, isInside(before, at(d, t)) !== turned]);
        }
    }),
  );
});
