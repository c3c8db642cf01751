export * from './text-file';
export * from './csv';
export * from './staff-csv';
export { readICalendar, writeICalendar, type ReadCalendar } from './ical';
export { readVCards, writeVCard, type ReadCards } from './vcard';
export { writeCpl, type WrittenCpl } from './cpl-out';
export { readCpl, type CplNote, type ReadCpl } from './cpl-in';
