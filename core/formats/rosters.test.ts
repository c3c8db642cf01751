import { readEstate, type Estate } from '../estate';
import { workedEstate } from '../tests/worked';
import { readCsv } from './csv';
import { readRosterCalendar } from './roster-ical';
import { readRosters, writeRosters } from './roster-csv';

const worked = workedEstate();
const [office] = worked.schedules;
const estate: Estate = {
  ...worked,
  sites: [
    { id: 'hall', name: 'Harbour hall', kind: 'office' },
    { id: 'pier', name: 'The pier', kind: 'branch' },
  ],
  people: worked.people.map((person) =>
    person.id === 'ruth' ? { ...person, roster: [{ site: 'hall', schedule: office!.id }] } : person,
  ),
};
function read(lines: readonly string[], of: Estate = estate) {
  const csv = readCsv(lines.join('\n'));
  if (!csv.ok) throw new Error('no table');
  return readRosters(csv.table, of);
}
const rosters = (list: { readonly people: Estate['people'] }) =>
  Object.fromEntries(list.people.map(({ id, roster = [] }) => [id, roster]));
const extension = (id: string) => worked.people.find((each) => each.id === id)!.lines[0]!.extension;

test('whoever stands in the list has its roster afterwards, and nobody else is changed', () => {
  const list = read([
    'Extension;Name;Site;Shift;How often',
    `${extension('ines')};;harbour HALL;${office!.name};60 %`,
    `${extension('ines')};;pier;${office!.id};`,
    `;Tomasz Bright;The pier;${office!.name};0,5`,
    `${extension('ruth')};;;;`,
  ]);
  expect(list.faults).toEqual([]);
  expect(rosters(list)).toEqual({
    ines: [
      { site: 'hall', schedule: office!.id, share: 0.6 },
      { site: 'pier', schedule: office!.id },
    ],
    tomasz: [{ site: 'pier', schedule: office!.id, share: 0.5 }],
    ruth: [],
  });
  // What is written is read as the same.
  const after = {
    ...estate,
    people: estate.people.map((each) => list.people.find(({ id }) => id === each.id) ?? each),
  };
  const again = read(writeRosters(after).split('\r\n'), after);
  expect([again.people, again.same, again.faults]).toEqual([[], 2, []]);
});

test('every fault is told by line and column, and nothing is taken over', () => {
  const list = read([
    'Name,Site,Hours,Share',
    `Ines Okafor,Moon,${office!.name},10`,
    `Nobody Here,hall,${office!.name},`,
    'Tomasz Bright,hall,Never,200 %',
  ]);
  expect(list.people).toEqual([]);
  expect(list.faults).toEqual([
    { line: 2, column: 2, message: '“Moon” is no site' },
    { line: 3, column: 1, message: '“Nobody Here” is nobody here, or several people' },
    { line: 4, column: 3, message: '“Never” are no hours' },
    { line: 4, column: 4, message: '“200 %” is no share over 0 and up to 100 %' },
  ]);
  expect(read(['Who,When', 'a,b']).faults.map(({ message }) => message)).toEqual([
    'no column is headed "extension" or "name"',
    'no column is headed "site"',
    'no column is headed "hours"',
  ]);
});

const event = (summary: string, from: string, to: string, ...more: readonly string[]) => [
  'BEGIN:VEVENT',
  `UID:${summary}-${from}`,
  'DTSTAMP:20261101T000000Z',
  `SUMMARY:${summary}`,
  `DTSTART;TZID=America/Vancouver:20261102T${from}00`,
  `DTEND;TZID=America/Vancouver:20261102T${to}00`,
  'RRULE:FREQ=WEEKLY;BYDAY=MO,TU,WE',
  ...more,
  'END:VEVENT',
];
const calendar = (...events: readonly (readonly string[])[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//a test//EN', ...events.flat(), 'END:VCALENDAR', ''].join(
    '\r\n',
  );
const FROM = '2026-11-02';

test('a calendar gives each attendee hours at its location; the same hours are made once', () => {
  const list = readRosterCalendar(
    calendar(
      event(
        'Early',
        '0600',
        '1400',
        'LOCATION:Harbour hall',
        'ATTENDEE;CN=Ines Okafor:mailto:ines@organisation.invalid',
        `ATTENDEE:mailto:${extension('tomasz')}@organisation.invalid`,
      ),
      event('Late', '1400', '2200', 'LOCATION:pier', 'ATTENDEE;CN=Ines Okafor:mailto:x@organisation.invalid'),
    ),
    estate,
    FROM,
  );
  expect(list.faults).toEqual([]);
  expect(list.schedules.map(({ name, weekly }) => [name, weekly])).toEqual([
    ['Roster: Early', [{ days: ['mon', 'tue', 'wed'], from: '06:00', to: '14:00' }]],
    ['Roster: Late', [{ days: ['mon', 'tue', 'wed'], from: '14:00', to: '22:00' }]],
  ]);
  const [early, late] = list.schedules.map(({ id }) => id);
  expect(rosters(list)).toEqual({
    ines: [
      { site: 'hall', schedule: early },
      { site: 'pier', schedule: late },
    ],
    tomasz: [{ site: 'hall', schedule: early }],
  });
  const whole = {
    ...estate,
    schedules: [...estate.schedules, ...list.schedules],
    people: estate.people.map((each) => list.people.find(({ id }) => id === each.id) ?? each),
  };
  expect(readEstate(JSON.parse(JSON.stringify(whole))).ok).toBe(true);
});

test('what a calendar says of nobody and nowhere is told, and nothing is taken over', () => {
  const faults = (text: string) =>
    readRosterCalendar(text, estate, FROM).faults.map(({ message }) => message);
  expect(
    faults(
      calendar(
        event('Early', '0600', '1400', 'ATTENDEE;CN=Ines Okafor:mailto:i@organisation.invalid'),
        event(
          'Late',
          '1400',
          '2200',
          'LOCATION:Moon',
          'ATTENDEE;CN=Ines Okafor:mailto:i@organisation.invalid',
        ),
        event('Night', '2200', '2300', 'LOCATION:hall'),
        event('Noon', '1200', '1300', 'LOCATION:hall', 'ATTENDEE;CN=Nobody:mailto:n@organisation.invalid'),
      ),
    ),
  ).toEqual([
    '“Early”: has no location',
    '“Late”: “Moon” is no site',
    '“Night”: is for nobody: it has no attendee',
    '“Noon”: “Nobody” is nobody here, or several people',
  ]);
  expect(faults('no calendar')[0]).toContain('this is no iCalendar');
  expect(faults(calendar())[0]).toBe('the calendar has no events');
});
