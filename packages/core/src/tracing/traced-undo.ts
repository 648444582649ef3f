import { type CompiledRow, RowMap, type Undoable, type UndoableRow, UndoLog } from '../rows/index.ts'
import { type TimeBefore, Timekeeper, type Timer } from '../time/index.ts'
import type { Changed, Doer } from './deeds.ts'
import type { Tracer } from './tracer.ts'

/** The code by which rows note a removal; the one for adding is less. */
const { REMOVED } = RowMap

/** An undo log that says who changed what: nothing can change in a match without being noted in it. */
export class TracedUndo extends UndoLog {
  private readonly tracer: Tracer

  constructor(tracer: Tracer) {
    super()
    this.tracer = tracer
  }

  override note(of: UndoableRow, code: number, old: unknown): void {
    if (of instanceof RowMap)
      this.tracer.changed(this.size, (by) => ({
        what: code === REMOVED ? 'removed' : 'added',
        by,
        isUndone: false,
        row: old as CompiledRow,
      }))
    else if (isRow(of)) this.wrote(of, code, old)
    super.note(of, code, old)
  }

  override noteOf<C>(of: Undoable<C>, before: C): void {
    if (of instanceof Timekeeper) {
      const change = timeChange(of, before as TimeBefore)
      this.tracer.changed(this.size, change)
    }
    super.noteOf(of, before)
  }

  override commit(again: boolean): void {
    this.tracer.kept()
    super.commit(again)
  }

  override rollback(to: number): void {
    this.tracer.undone(to)
    super.rollback(to)
  }

  private wrote(row: CompiledRow, code: number, before: unknown): void {
    const cell = row.$shape.each[code >> 1]?.name
    if (cell === undefined) return
    this.tracer.changed(this.size, (by) => ({
      what: 'wrote',
      by,
      isUndone: false,
      row,
      cell,
      before,
      after: undefined,
    }))
  }
}

const isRow = (of: UndoableRow): of is CompiledRow => '$cell' in of

const timer = (time: Timekeeper, { kind, key }: Timer) => ({
  timer: { name: kind.whole, key },
  clock: kind.clock,
  reading: time.read(kind.clock),
  isUndone: false,
})

/** The change before which this was noted. A timer that is put off has its new due only afterwards. */
function timeChange(time: Timekeeper, before: TimeBefore): (by: Doer) => Changed {
  if ('clock' in before) {
    const { clock } = before
    return (by) => ({ what: 'clock', by, isUndone: false, clock, runs: !time.runs(clock) })
  }
  if ('moved' in before) {
    const { moved } = before
    const due = { get: () => moved.due }
    return (by) => Object.defineProperty({ what: 'moved', by, due: 0, ...timer(time, moved) }, 'due', due)
  }
  const [what, of] =
    'started' in before ? (['started', before.started] as const) : (['stopped', before.stopped] as const)
  return (by) => ({ what, by, due: of.due, ...timer(time, of) })
}
