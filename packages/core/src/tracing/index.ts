export {
  type Changed,
  type Deed,
  type Doer,
  deedsOf,
  type Raised,
  type Ran,
  type Resolved,
  type RowMoved,
  type StepTaken,
  stepOf,
  type TimerMoved,
  type TimerName,
  type Wrote,
} from './deeds.ts'
export { keepReads } from './reading-rows.ts'
export { TracedEngine } from './traced-engine.ts'
export { Tracer } from './tracer.ts'
