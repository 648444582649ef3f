import type { CompiledRow } from './row.ts'

/** Cells of which only the latest value counts: a flush tells each at most so often, and the rest of them wait. */
export class Latest {
  /** Rows of which something waits. */
  readonly rows: CompiledRow[] = []
  /** When the first of them may be told, match time; infinity where nothing waits. */
  next: number = Number.POSITIVE_INFINITY
  now = 0
  private all = false

  /** A flush begins: at this time, and telling all that waits if it must. */
  begin(now: number, all: boolean): void {
    this.now = now
    this.all = all
    this.next = Number.POSITIVE_INFINITY
    this.rows.length = 0
  }

  /** Whether a changed cell must wait that was last told then. */
  waits(told: number, every: number): boolean {
    return !this.all && this.now < told + every
  }

  until(due: number): void {
    this.next = Math.min(this.next, due)
  }

  /** A row stays for a later flush. */
  keep(row: CompiledRow): void {
    row.$listed = true
    this.rows.push(row)
  }
}
