export {
  type CheckLine,
  type Header,
  type InputLine,
  type Line,
  RECORD_VERSION,
  type TimeLine,
} from './format.ts'
export { type Migrated, migratedFor } from './migrated.ts'
export {
  type NumberedLine,
  type RecordContent,
  type RecordStream,
  readRecord,
  readTail,
} from './read-record.ts'
export { Recorder, type Sink } from './recorder.ts'
export { type Difference, type Replayed, replayInput, replayInto, rulingsOf } from './replay.ts'
export { loadSnapshot, SNAPSHOT_VERSION, type Snapshot, takeSnapshot } from './snapshot.ts'
