export type { RecordKind } from '../../api/record';
export { type RecordFilter, filterMasked, filterRecord, foldedSlates } from './filter';
export { type NewRecord, type RecordEntry, addRecord, addRecords, readRecord } from './queries';
