import ICAL from 'ical.js';
import type { Estate, RosterEntry, Schedule } from '../estate';
import { freeId } from '../editing';
import { readICalendar } from './ical';
import { oneNamed, withRosters, type RosterList } from './roster-csv';
import type { PlacedFault } from './text-file';

const MOST_CHARACTERS = 4 << 20;
const MOST_EVENTS = 5000;
const MOST_NAME = 80;

/** Whom an event is for: each attendee by name (CN) or by the extension before the @ of the address. */
function attendeesOf(event: ICAL.Component): readonly string[] {
  return event.getAllProperties('attendee').map((property) => {
    const name = property.getParameter('cn');
    const address = String(property.getFirstValue()).replace(/^mailto:/i, '');
    return typeof name === 'string' && name !== '' ? name : (address.split('@')[0] ?? '');
  });
}

/**
 * Reads rosters as iCalendar (RFC 5545): each event is for its attendees (by name, or by the extension before the @) at
 * its location, which is a site. The events of somebody at one site are hours of their own; hours that several have, or
 * that there are already, are made once. Whoever is in the calendar has its roster afterwards.
 */
export function readRosterCalendar(text: string, estate: Estate, fromDate: string): RosterList {
  const none: RosterList = { people: [], schedules: [], same: 0, faults: [] };
  const fault = (message: string): RosterList => ({ ...none, faults: [{ line: 0, column: 0, message }] });
  if (text.length > MOST_CHARACTERS) return fault('the calendar is larger than 4 MiB');
  let calendar: ICAL.Component;
  try {
    const parsed = ICAL.parse(text) as unknown[];
    calendar = new ICAL.Component((Array.isArray(parsed[0]) ? parsed[0] : parsed) as unknown[]);
  } catch (error) {
    return fault(`this is no iCalendar: ${error instanceof Error ? error.message : String(error)}`);
  }
  const events = calendar.getAllSubcomponents('vevent');
  if (events.length > MOST_EVENTS) return fault(`the calendar has more than ${MOST_EVENTS} events`);
  if (events.length === 0) return fault('the calendar has no events');
  const faults: PlacedFault[] = [];
  /** Events by who comes where. */
  const groups = new Map<string, { person: string; site: string; events: ICAL.Component[] }>();
  for (const event of events) {
    const called = String(event.getFirstPropertyValue('summary') ?? 'an event');
    const wrong = (message: string) =>
      void faults.push({ line: 0, column: 0, message: `“${called}”: ${message}` });
    const location = String(event.getFirstPropertyValue('location') ?? '');
    const site = oneNamed(estate.sites ?? [], location);
    if (!site) {
      wrong(location === '' ? 'has no location' : `“${location}” is no site`);
      continue;
    }
    const attendees = attendeesOf(event);
    if (attendees.length === 0) wrong('is for nobody: it has no attendee');
    for (const attendee of attendees) {
      const person =
        oneNamed(estate.people, attendee) ??
        estate.people.find(({ lines }) => lines.some(({ extension }) => extension === attendee));
      if (!person) {
        wrong(`“${attendee}” is nobody here, or several people`);
        continue;
      }
      const key = `${person.id} ${site.id}`;
      const group = groups.get(key) ?? { person: person.id, site: site.id, events: [] };
      group.events.push(event);
      groups.set(key, group);
    }
  }
  const zones = calendar.getAllSubcomponents('vtimezone').map(String).join('\r\n');
  const schedules: Schedule[] = [];
  const hoursKey = ({ timeZone, weekly, open = [], closed = [] }: Omit<Schedule, 'id' | 'name'>) =>
    JSON.stringify([timeZone, weekly, open, closed]);
  const known = new Map(estate.schedules.map((schedule) => [hoursKey(schedule), schedule.id]));
  const rosters = new Map<string, RosterEntry[]>();
  for (const { person, site, events: own } of groups.values()) {
    const part = ['BEGIN:VCALENDAR', 'VERSION:2.0', zones, ...own.map(String), 'END:VCALENDAR']
      .filter((each) => each !== '')
      .join('\r\n');
    const read = readICalendar(part, estate.timeZone, fromDate);
    const named = estate.people.find(({ id }) => id === person)?.name ?? person;
    if (!read.ok) {
      faults.push({
        line: 0,
        column: 0,
        message: `${named}: ${read.faults[0]?.message ?? 'cannot be read'}`,
      });
      continue;
    }
    for (const note of read.notes) faults.push({ line: 0, column: 0, message: `${named}: ${note}` });
    const key = hoursKey(read.hours);
    let schedule = known.get(key);
    if (schedule === undefined) {
      const name = `Roster: ${String(own[0]?.getFirstPropertyValue('summary') ?? named)}`.slice(0, MOST_NAME);
      schedule = freeId(
        'roster',
        [...estate.schedules, ...schedules].map(({ id }) => id),
      );
      schedules.push({ id: schedule, name, ...read.hours });
      known.set(key, schedule);
    }
    rosters.set(person, [...(rosters.get(person) ?? []), { schedule, site }]);
  }
  return faults.length > 0 ? { ...none, faults } : { schedules, faults, ...withRosters(estate, rosters) };
}
