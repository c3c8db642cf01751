export { type RecordFilter, filterMasked, filterRecord } from './filter';
export {
  type NewRecord,
  type RecordEntry,
  type RecordKind,
  addRecord,
  addRecords,
  readRecord,
} from './queries';
