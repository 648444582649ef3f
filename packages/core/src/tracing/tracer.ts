import type { Values } from '../cells/index.ts'
import type { DraftPlan, EventPlan, Handler } from '../plan/index.ts'
import type { CompiledRow } from '../rows/index.ts'
import type { Ruling } from '../rule/index.ts'
import type { Changed, Deed, Doer, Raised, Ran, Resolved, StepTaken, TimerName, Wrote } from './deeds.ts'

/** Everything that is done in a match, as a tree for each step. */
export class Tracer {
  readonly steps: StepTaken[] = []
  /** The line of the record that is played. */
  line: number | undefined
  private doer: Doer | undefined
  private readonly outer: (Doer | undefined)[] = []
  /** Changes of the step that runs, each with the size of the undo log before it. */
  private changes: { readonly size: number; readonly deed: Changed }[] = []
  /** By row, the last write to each of its cells in this step. */
  private readonly written: Map<CompiledRow, Map<string, Wrote>> = new Map()
  private readonly raised: Map<Values, Raised> = new Map()
  private paused = 0

  /** True while nothing is to be noted: outside of steps, and in trials. */
  get isIdle(): boolean {
    return this.doer === undefined || this.paused > 0
  }

  begin(during: string, at: number, timer?: TimerName): StepTaken {
    const { line } = this
    const step: StepTaken = {
      what: 'step',
      at,
      during,
      line: timer === undefined ? line : undefined,
      timer,
      did: [],
      ruling: undefined,
      error: undefined,
    }
    this.steps.push(step)
    this.enter(step)
    this.changes = []
    this.written.clear()
    this.raised.clear()
    return step
  }

  end(step: StepTaken, ruling: Ruling | undefined): void {
    step.ruling = ruling
    this.leave()
  }

  ran(handler: Handler<never, unknown>, a: unknown, b: unknown): Ran {
    const ran: Ran = {
      what: 'ran',
      by: this.doer as Doer,
      handler,
      given: [a, b],
      on: this.raised.get(a as Values),
      did: [],
      read: new Map(),
      answer: undefined,
      hasThrown: false,
      amended: undefined,
    }
    this.note(ran)
    this.enter(ran)
    return ran
  }

  resolved(draft: DraftPlan, given: Values): Resolved {
    const resolved: Resolved = {
      what: 'resolved',
      by: this.doer as Doer,
      draft,
      given,
      did: [],
      answer: undefined,
    }
    this.note(resolved)
    this.enter(resolved)
    return resolved
  }

  /** Ends what was entered last. */
  leave(): void {
    this.doer = this.outer.pop()
  }

  raise(event: EventPlan, cells: Values): void {
    const raised: Raised = { what: 'raised', by: this.doer as Doer, event, cells }
    this.raised.set(cells, raised)
    this.note(raised)
  }

  /** A cell has been read. */
  reads(row: CompiledRow, cell: string, value: unknown): void {
    if (this.paused > 0 || this.doer?.what !== 'ran') return
    const { read } = this.doer
    const cells = read.get(row)
    if (cells === undefined) read.set(row, new Map([[cell, value]]))
    else if (!cells.has(cell)) cells.set(cell, value)
  }

  /** Something changes, by what runs. `size`: that of the undo log before it. */
  changed(size: number, change: (by: Doer) => Changed): void {
    if (this.isIdle) return
    const deed = change(this.doer as Doer)
    this.changes.push({ size, deed })
    this.note(deed)
    if (deed.what !== 'wrote') return
    const cells = this.written.get(deed.row) ?? new Map<string, Wrote>()
    const former = cells.get(deed.cell)
    if (former !== undefined) former.after = deed.before
    this.written.set(deed.row, cells.set(deed.cell, deed))
  }

  /** The undo log goes back to a size: what came after it is undone. */
  undone(size: number): void {
    while ((this.changes.at(-1)?.size ?? -1) >= size) {
      const { deed } = this.changes.pop() as { readonly deed: Changed }
      deed.isUndone = true
      if (deed.what !== 'wrote') continue
      const cells = this.written.get(deed.row)
      if (cells?.get(deed.cell) !== deed) continue
      deed.after = deed.row.$kept(deed.cell)
      cells.delete(deed.cell)
    }
  }

  /** The step is kept: what was written stays. */
  kept(): void {
    for (const cells of this.written.values())
      for (const [cell, deed] of cells) deed.after = deed.row.$kept(cell)
  }

  /** Notes nothing while this runs. */
  quietly<R>(run: () => R): R {
    this.paused++
    try {
      return run()
    } finally {
      this.paused--
    }
  }

  private note(deed: Deed): void {
    this.doer?.did.push(deed)
  }

  private enter(doer: Doer): void {
    this.outer.push(this.doer)
    this.doer = doer
  }
}
