import fc from 'fast-check';
import { DateTime } from 'luxon';
import { WEEKDAYS, type Schedule } from '../estate';
import { isInside } from '../calls/time';
import { readICalendar, writeICalendar } from './ical';

const clock = fc
  .tuple(fc.integer({ min: 0, max: 23 }), fc.constantFrom('00', '30'))
  .map(([h, m]) => `${String(h).padStart(2, '0')}:${m}`);
const schedule: fc.Arbitrary<Schedule> = fc.record({
  id: fc.constant('office'),
  name: fc.constantFrom('Office hours', 'Night; watch, with \\ signs'),
  timeZone: fc.constantFrom('America/Vancouver', 'Europe/London', 'Australia/Lord_Howe', 'Asia/Kolkata'),
  weekly: fc.array(
    fc.record({ days: fc.subarray([...WEEKDAYS], { minLength: 1 }), from: clock, to: clock }),
    {
      maxLength: 3,
    },
  ),
  closed: fc.uniqueArray(fc.constantFrom('2026-12-25', '2027-03-14', '2027-11-07')),
  open: fc.array(
    fc.record({ date: fc.constantFrom('2026-12-05', '2027-03-28', '2027-10-31'), from: clock, to: clock }),
    { maxLength: 2 },
  ),
});
const FROM = '2026-11-23';
const read = (text: string, zone = 'America/Vancouver') => {
  const calendar = readICalendar(text, zone, FROM);
  if (!calendar.ok) throw new Error(JSON.stringify(calendar.faults));
  return calendar;
};
const calendar = (...lines: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', ...lines, 'END:VCALENDAR', ''].join('\r\n');
const event = (...lines: string[]) => ['BEGIN:VEVENT', 'UID:1', 'SUMMARY:Watch', ...lines, 'END:VEVENT'];

test('written and read again, a schedule is inside at the same moments, over changes of summer time in each zone', () => {
  fc.assert(
    fc.property(
      schedule,
      fc.array(fc.integer({ min: 0, max: 400 * 48 }), { minLength: 40, maxLength: 40 }),
      (s, cells) => {
        const back = read(writeICalendar(s, FROM), 'UTC');
        expect(back.notes).toEqual([]);
        const again: Schedule = { id: s.id, name: s.name, ...back.hours };
        const weekly = s.weekly.length + s.open!.length;
        if (weekly > 0) expect(again.timeZone).toBe(s.timeZone);
        const from = DateTime.fromISO('2026-11-24', { zone: 'utc' }).toMillis();
        for (const cell of cells) {
          const at = from + cell * 1_800_000;
          expect([at, isInside(again, at)]).toEqual([at, isInside(s, at)]);
        }
      },
    ),
    { numRuns: 60 },
  );
});
test('lines are folded at 75 octets and end as RFC 5545 has it', () => {
  const text = writeICalendar(
    {
      id: 's',
      name: 'Überlange Öffnungszeiten der Fähre im Süden, jeden Tag, das ganze Jahr über',
      timeZone: 'Europe/London',
      weekly: [{ days: ['mon'], from: '08:00', to: '09:00' }],
    },
    FROM,
  );
  expect(text.endsWith('END:VCALENDAR\r\n')).toBe(true);
  for (const line of text.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
  expect(text).toMatch(/BEGIN:VTIMEZONE\r\nTZID:Europe\/London/);
});
test('daily recurrence, a duration, an all-day holiday over several days', () => {
  const { hours } = read(
    calendar(
      ...event('DTSTART;TZID=Europe/London:20261123T220000', 'DURATION:PT8H', 'RRULE:FREQ=DAILY'),
      ...event('DTSTART;VALUE=DATE:20261224', 'DTEND;VALUE=DATE:20261227'),
    ),
  );
  expect(hours).toEqual({
    timeZone: 'Europe/London',
    weekly: [{ days: [...WEEKDAYS], from: '22:00', to: '06:00' }],
    closed: ['2026-12-24', '2026-12-25', '2026-12-26'],
  });
});
test.each<[string, string[], RegExp]>([
  [
    'another recurrence is written out, with an end',
    [
      'DTSTART;TZID=Europe/London:20261201T090000',
      'DTEND;TZID=Europe/London:20261201T100000',
      'RRULE:FREQ=MONTHLY;BYMONTHDAY=1',
    ],
    /written out for 400 days/,
  ],
  [
    'one that never ends and comes every second',
    [
      'DTSTART;TZID=Europe/London:20261201T090000',
      'DTEND;TZID=Europe/London:20261201T100000',
      'RRULE:FREQ=SECONDLY',
    ],
    /written out for 400 days/,
  ],
  [
    'a zone that is not known',
    ['DTSTART;TZID=Sea/Deep:20261201T090000', 'DTEND;TZID=Sea/Deep:20261201T100000'],
    /zone that is not known/,
  ],
  [
    'longer than a day',
    ['DTSTART;TZID=Europe/London:20261201T090000', 'DTEND;TZID=Europe/London:20261203T100000'],
    /longer than a day/,
  ],
])('%s', (_name, lines, note) => {
  const { notes, hours } = read(calendar(...event(...lines)));
  expect(notes).toEqual([expect.stringMatching(note)]);
  expect((hours.open ?? []).length).toBeLessThanOrEqual(400);
});
test.each([
  ['', ''],
  ['no calendar at all', 'line 1'],
  [calendar('BEGIN:VEVENT', 'this line has no colon', 'END:VEVENT'), 'line 4'],
  ['BEGIN:VCARD\r\nVERSION:4.0\r\nEND:VCARD\r\n', ''],
])('what is no calendar is told, by line where there is one: %#', (text, path) => {
  expect(readICalendar(text, 'UTC', FROM)).toMatchObject({ ok: false, faults: [{ path }] });
});

test('a holiday of several days that comes each year is closed on all of them, for ten years', () => {
  const { hours, notes } = read(
    calendar(
      ...event('DTSTART;VALUE=DATE:20201224', 'DTEND;VALUE=DATE:20201227', 'RRULE:FREQ=YEARLY'),
      ...event('DTSTART;VALUE=DATE:20270402', 'DTEND;VALUE=DATE:20270403'),
    ),
  );
  const closed = hours.closed ?? [];
  expect(closed).toContain('2027-04-02');
  expect(closed.filter((date) => date.slice(5) === '12-25')).toHaveLength(10);
  for (const day of ['24', '25', '26']) expect(closed).toContain(`2030-12-${day}`);
  expect(closed).not.toContain('2030-12-27');
  expect(notes).toEqual(['“Watch”: comes each year: its closed dates were written out for ten years']);
});
