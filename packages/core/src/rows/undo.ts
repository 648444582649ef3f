/** Something whose changes can be taken back. */
export interface Undoable {
  /** Takes one change back: the code says which, `old` is what was there. */
  $restore(code: number, old: unknown): void
  /** Called when a step is kept: clears a dirty mark where the step has put back what was there before. */
  $keep?(code: number, old: unknown): void
  /** The part of the state that it belongs to, for rows and tables. */
  readonly $shape?: object
  readonly shape?: object
}

/** Three entries of the log make one change: what was changed, the code, what was there. */
const STRIDE = 3

/** What a step has changed so far, newest last. It belongs to one match. */
export class UndoLog {
  /** Entries, so three for each change. */
  size = 0
  private readonly log: unknown[] = []

  /** To be called before the change itself. With an odd code there is nothing to settle when the step is kept. */
  note(of: Undoable, code: number, old: unknown): void {
    const { log, size } = this
    log[size] = of
    log[size + 1] = code
    log[size + 2] = old
    this.size = size + STRIDE
  }

  /** Keeps all changes: from here on they cannot be taken back. `again` says that something was written twice. */
  commit(again: boolean): void {
    if (again)
      for (let at = 0; at < this.size; at += STRIDE) {
        const code = this.log[at + 1] as number
        if ((code & 1) === 0) (this.log[at] as Undoable).$keep?.(code, this.log[at + 2])
      }
    this.size = 0
  }

  /** Takes back, newest first, all that came after the log had this size. */
  rollback(to: number): void {
    while (this.size > to) {
      this.size -= STRIDE
      const { log, size } = this
      ;(log[size] as Undoable).$restore(log[size + 1] as number, log[size + 2])
    }
  }

  /** All changes, oldest first: what, the code, what was there. */
  *entries(): Iterable<readonly [of: Undoable, code: number, old: unknown]> {
    for (let at = 0; at < this.size; at += STRIDE)
      yield [this.log[at] as Undoable, this.log[at + 1] as number, this.log[at + 2]]
  }

  /** What the step has changed so far: rows, tables, parts by their shape, and whatever else notes its changes. */
  changed(): Set<object> {
    const changed = new Set<object>()
    for (let at = 0; at < this.size; at += STRIDE) {
      const of = this.log[at] as Undoable
      changed.add(of)
      const part = of.$shape ?? of.shape
      if (part !== undefined) changed.add(part)
    }
    return changed
  }
}
