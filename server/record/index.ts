export { type RecordFilter, filterMasked, filterRecord, foldedSlates } from './filter';
export {
  type NewRecord,
  type RecordEntry,
  type RecordKind,
  addRecord,
  addRecords,
  readRecord,
} from './queries';
