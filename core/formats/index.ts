export * from './text-file';
export * from './csv';
export * from './staff-csv';
export { readICalendar, writeICalendar, type ReadCalendar } from './ical';
export { readVCards, writeVCard, type ReadCards } from './vcard';
