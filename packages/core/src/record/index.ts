export { type CheckLine, type Header, type InputLine, type Line, RECORD_VERSION } from './format.ts'
export { type NumberedLine, type RecordContent, readRecord } from './read-record.ts'
export { Recorder, type Sink } from './recorder.ts'
export { type Replayed, replayInto } from './replay.ts'
