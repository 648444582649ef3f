import { RefereeError } from '../kit/index.ts'
import type { CompiledRow, PolicyRow } from './row-class.ts'
import { UndoLog } from './undo.ts'

/** What all rows of one match share: the undo log, the rows to tell of, and whether writing is allowed now. */
export class Store {
  readonly undo: UndoLog = new UndoLog()
  readonly dirty: CompiledRow[] = []
  /** Rows of this step whose sight depends on themselves. */
  readonly touched: PolicyRow[] = []
  /** True while a step may write. */
  open = false
  /** Whether this step has written a cell that was dirty already. */
  again = false
  /** Bits of the settle handlers that this step has woken. */
  woken = 0
  /** What went wrong in this step first. It ends the step, even if a handler catches it. */
  trouble: RefereeError | undefined
  /** The seat that a handler asked for and that does not exist, where that is the trouble. */
  missing: string | undefined

  fail(error: RefereeError): never {
    this.trouble ??= error
    throw error
  }

  refuse(what: string): never {
    return this.fail(
      new RefereeError('ZR_STATE_CLOSED', { what: what.replace(/^\//, '').replaceAll('/', '.') }),
    )
  }

  list(row: CompiledRow): void {
    if (row.$listed) return
    row.$listed = true
    this.dirty.push(row)
  }

  touch(row: PolicyRow): void {
    if (row.$touched) return
    row.$touched = true
    this.touched.push(row)
  }

  /** The rows that were touched, each once. */
  takeTouched(): PolicyRow[] {
    const rows = this.touched.splice(0)
    for (const row of rows) row.$touched = false
    return rows
  }
}
