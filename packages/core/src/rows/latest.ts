import type { CompiledRow } from './row.ts'

/** Cells of which only the latest value counts: a flush tells each at most so often, and the rest of them wait. */
export class Latest {
  /** Rows of which something waits. */
  readonly rows: CompiledRow[] = []
  /** Match time when the first of them may be sent; infinity if none waits. */
  next: number = Number.POSITIVE_INFINITY
  now = 0
  private all = false

  /** Begins a flush at this time. `all`: cells that wait are sent, too. */
  begin(now: number, all: boolean): void {
    this.now = now
    this.all = all
    this.next = Number.POSITIVE_INFINITY
    this.rows.length = 0
  }

  /** True if a changed cell that was last sent at this time must wait. */
  waits(sent: number, every: number): boolean {
    return !this.all && this.now < sent + every
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
