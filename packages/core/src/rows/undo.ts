/** Something whose changes can be taken back, each by what there was before. */
export interface Undoable<C> {
  restore(before: C): void
}

/**
 * A row, a table or the rows of a table. They change so often that a change is a number and a value: the number says
 * which member changed. It is even if the change needs settling when the step is kept.
 */
export interface UndoableRow {
  /** Takes one change back: the code says which, `old` is what was there. */
  $restore(code: number, old: unknown): void
  /** Called when a step is kept: clears a dirty mark where the step has put back what was there before. */
  $keep?(code: number, old: unknown): void
  /** The part of the state that it belongs to. */
  readonly $shape?: object
  readonly shape?: object
}
type Changed = UndoableRow | Undoable<never>

/** Three entries of the log make one change: what was changed, the code, what was there. */
const STRIDE = 3
/** The code of changes that restore themselves. Odd, since they need no settling. */
const TYPED = -1

/** The changes of a step so far, newest last. There is one per match. */
export class UndoLog {
  /** Entries, so three for each change. */
  size = 0
  private readonly log: unknown[] = []

  /** To be called before the change itself. */
  note(of: UndoableRow, code: number, old: unknown): void {
    const { log, size } = this
    log[size] = of
    log[size + 1] = code
    log[size + 2] = old
    this.size = size + STRIDE
  }

  /** Notes the value to restore. Call it before the change. */
  noteOf<C>(of: Undoable<C>, before: C): void {
    this.note(of as object as UndoableRow, TYPED, before) // its code says by what it is restored
  }

  /** Keeps all changes: from here on they cannot be taken back. `again` says that something was written twice. */
  commit(again: boolean): void {
    if (again)
      for (let at = 0; at < this.size; at += STRIDE) {
        const code = this.log[at + 1] as number
        if ((code & 1) === 0) (this.log[at] as UndoableRow).$keep?.(code, this.log[at + 2])
      }
    this.size = 0
  }

  /** Takes back, newest first, all that came after the log had this size. */
  rollback(to: number): void {
    while (this.size > to) {
      this.size -= STRIDE
      const { log, size } = this
      const code = log[size + 1] as number
      if (code === TYPED) (log[size] as Undoable<unknown>).restore(log[size + 2])
      else (log[size] as UndoableRow).$restore(code, log[size + 2])
    }
  }

  /** All changes, oldest first: what, the code of a row's, what was there. */
  *entries(): Iterable<readonly [of: Changed, code: number, old: unknown]> {
    for (let at = 0; at < this.size; at += STRIDE)
      yield [this.log[at] as Changed, this.log[at + 1] as number, this.log[at + 2]]
  }

  /**
   * Returns what the step has changed so far: rows, tables, parts by their shape, and anything else that notes its
   * changes.
   */
  changed(): Set<object> {
    const changed = new Set<object>()
    for (let at = 0; at < this.size; at += STRIDE) {
      const of = this.log[at] as Partial<UndoableRow>
      changed.add(of)
      const part = of.$shape ?? of.shape
      if (part !== undefined) changed.add(part)
    }
    return changed
  }
}
