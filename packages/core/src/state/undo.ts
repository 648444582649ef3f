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

/** What a step has changed so far, newest last. It belongs to one match. */
export class UndoLog {
  size = 0
  private readonly of: Undoable[] = []
  private readonly codes: number[] = []
  private readonly olds: unknown[] = []

  /** To be called before the change itself. With an odd code there is nothing to settle when the step is kept. */
  note(of: Undoable, code: number, old: unknown): void {
    const at = this.size++
    this.of[at] = of
    this.codes[at] = code
    this.olds[at] = old
  }

  /** Keeps all changes: from here on they cannot be taken back. `again` says that something was written twice. */
  commit(again: boolean): void {
    if (again) {
      for (let at = 0; at < this.size; at++) {
        const code = this.codes[at] ?? 0
        if ((code & 1) === 0) this.of[at]?.$keep?.(code, this.olds[at])
      }
    }
    this.size = 0
  }

  /** Takes back, newest first, all that came after the log had this size. */
  rollback(to: number): void {
    while (this.size > to) {
      const at = --this.size
      this.of[at]?.$restore(this.codes[at] ?? 0, this.olds[at])
    }
  }

  /** What the step has changed so far: rows, tables, parts by their shape, and whatever else notes its changes. */
  changed(): Set<object> {
    const changed = new Set<object>()
    for (let at = 0; at < this.size; at++) {
      const of = this.of[at]
      if (of === undefined) continue
      changed.add(of)
      const part = of.$shape ?? of.shape
      if (part !== undefined) changed.add(part)
    }
    return changed
  }
}
