export * from './text-file';
export * from './csv';
export * from './staff-csv';
export { readICalendar, writeICalendar, type ReadCalendar } from './ical';
export { readVCards, writeVCard, type ReadCards } from './vcard';
export { writeCpl, type WrittenCpl } from './cpl-out';
export { readCpl, type CplNote, type ReadCpl } from './cpl-in';
export { looksLikeLdif, readLdif, type DirectoryEntry, type ReadLdif } from './ldif';
export {
  listDifference,
  MOST_LISTED,
  readNumberList,
  type NumberField,
  type NumberListFile,
  type ReadNumberList,
} from './number-list';
export { writeJUnit, type ReportedCase } from './junit';
export {
  COMPARED_FIELD_NAMES,
  compareTable,
  matchCompared,
  type ComparedColumns,
  type ComparedField,
  type Comparison,
  type Deviation,
} from './compare-csv';
export { writePcap, type CapturedPacket } from './pcap';
export { readMoney, readTariff, type ReadTariff } from './tariff-csv';
export { readWavHead, writeWav, type ReadWav, type WavFacts } from './wav';
export { readRosters, writeRosters, type RosterList } from './roster-csv';
export { readRosterCalendar } from './roster-ical';
