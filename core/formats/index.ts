export * from './text-file';
export * from './csv';
export * from './staff-csv';
export { readICalendar, writeICalendar, type ReadCalendar } from './ical';
