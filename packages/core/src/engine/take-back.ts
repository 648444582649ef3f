import type { Seat } from '../cells/index.ts'
import { Stream } from '../chance/index.ts'
import {
  type CompiledRow,
  KeyedTable,
  loadNames,
  RowMap,
  type RowNames,
  type SavedNames,
  saveNames,
  type Undoable,
} from '../rows/index.ts'
import { type TimeBefore, type TimeChange, Timekeeper } from '../time/index.ts'
import type { MatchState } from './match-state.ts'
import { type SightBefore, SightKeeper } from './sight-keeper.ts'

/** A change of a row as JSON: by the place of its part and by its number. */
type RowChange =
  | readonly ['cell', place: number, row: number, cell: number, old: unknown]
  | readonly ['added', place: number, row: number]
  | readonly ['removed', place: number, row: number, names: SavedNames | null, values: readonly unknown[]]
  | readonly ['renamed', place: number, row: number, names: SavedNames | null]
type Change = RowChange | TimeChange

/** A step that can be taken back, and the seat it belongs to. */
export interface KeptStep {
  readonly seat: Seat
  readonly changes: readonly Change[]
}

/** The kind of step that is running: one that a seat may take back, one that is final, or one that takes back. */
interface Doing {
  readonly seat?: Seat
  readonly stands?: boolean
  readonly returns?: boolean
}

/** The state before a change, to go back to: one of these members is set. */
interface Before {
  readonly doing?: Doing
  readonly steps?: readonly KeptStep[]
}

const MAX_STEPS = 100

/**
 * Steps that can be taken back after they were kept. A step is final, and all steps before it, if it drew from
 * chance, if it let somebody see something new, if it sent something to some viewers only, or if it is another
 * seat's.
 */
export class KeptSteps implements Undoable<Before> {
  private readonly state: MatchState
  private steps: readonly KeptStep[] = []
  private doing: Doing = {}

  constructor(state: MatchState) {
    this.state = state
  }

  allow(seat: Seat): void {
    this.mark({ ...this.doing, seat })
  }

  /** Makes all that was done final, this step included. */
  finalize(): void {
    this.mark({ ...this.doing, stands: true })
    if (this.steps.length > 0) this.write([])
  }

  /** Takes this seat's last step back, if nobody has done anything since; whether there was one. */
  undo(seat: Seat): boolean {
    const last = this.steps.at(-1)
    if (last?.seat !== seat) return false
    const changes = last.changes.toReversed()
    // Restore rows first, so that references to them are valid again.
    for (const change of changes) if (change[0] === 'removed') this.revert(change)
    for (const change of changes) if (change[0] !== 'removed') this.revert(change)
    this.write(this.steps.slice(0, -1))
    this.mark({ ...this.doing, returns: true })
    return true
  }

  /** Call it when a step has settled. `isUneven`: the step sends something to some viewers only. */
  settle(isUneven: boolean): void {
    const { doing, steps } = this
    this.doing = {}
    if (doing.returns) return
    const isKept = doing.seat !== undefined && !doing.stands && !isUneven
    const changes = isKept ? this.changes() : undefined
    if (doing.seat !== undefined && changes !== undefined)
      this.write([...steps, { seat: doing.seat, changes }].slice(-MAX_STEPS))
    // Whether another's step has changed anything may be hidden, so it does not matter.
    else if (steps.length > 0) this.write([])
  }

  save(): readonly KeptStep[] {
    return this.steps
  }

  load(steps: readonly KeptStep[]): void {
    this.steps = steps
  }

  restore({ doing = this.doing, steps = this.steps }: Before): void {
    this.doing = doing
    this.steps = steps
  }

  private mark(doing: Doing): void {
    this.state.store.undo.noteOf(this, { doing: this.doing })
    this.doing = doing
  }

  private write(steps: readonly KeptStep[]): void {
    this.state.store.undo.noteOf(this, { steps: this.steps })
    this.steps = steps
  }

  /** Returns the changes of the running step, oldest first, or nothing if it can't be taken back. */
  private changes(): Change[] | undefined {
    const changes: Change[] = []
    const removed = new Set<object>()
    for (const [of, code, old] of this.state.store.undo.entries()) {
      const change = this.change(of, code, old, removed)
      if (change === undefined) return undefined
      if (change !== 'nothing') changes.push(change)
    }
    return changes
  }

  private change(
    of: object,
    code: number,
    old: unknown,
    removed: Set<object>,
  ): Change | 'nothing' | undefined {
    if (of === this) return 'nothing'
    if (of instanceof Timekeeper) return of.changed(old as TimeBefore)
    if (of instanceof SightKeeper) return of.grew(old as SightBefore) ? undefined : 'nothing'
    if (of instanceof Stream) return undefined
    if (of instanceof KeyedTable) return renaming(of, code, old)
    if (of instanceof RowMap) return this.coming(of, code, old as CompiledRow, removed)
    // A row that is written after its removal would come back with the new values.
    return isRow(of) && !removed.has(of) ? written(of, code, old) : undefined
  }

  private coming(
    { shape }: RowMap,
    code: number,
    row: CompiledRow,
    removed: Set<object>,
  ): Change | undefined {
    if (this.table(shape.place) === undefined) return undefined
    if (code === RowMap.ADDED) return ['added', shape.place, row.$number]
    removed.add(row)
    return ['removed', shape.place, row.$number, savedNames(row.$names), row.$save()]
  }

  private revert(change: Change): void {
    if (change[0] === 'timer' || change[0] === 'clock') this.state.time.revert(change)
    else this.revertRow(change)
  }

  private revertRow(change: RowChange): void {
    const [kind, place, number] = change
    const table = this.table(place)
    const row = this.state.rowAt(place, number)
    if (kind === 'removed') table?.bringBack(number, change[4], shownNames(change[3]))
    else if (row === undefined) return
    else if (kind === 'added') table?.removeRow(row)
    else if (kind === 'renamed') table?.renameBack(row, shownNames(change[3]))
    else this.revertCell(row, change[3], change[4])
  }

  private revertCell(row: CompiledRow, at: number, old: unknown): void {
    const cell = row.$shape.each[at]
    if (cell === undefined) return
    const { name, form, reference } = cell
    const value =
      reference === undefined ? form.load(old) : reference.read(this.state.store, old ?? undefined)
    Object.assign(row, { [name]: value })
  }

  private table(place: number): KeyedTable | undefined {
    const part = this.state.partAt(place)
    return part instanceof KeyedTable ? part : undefined
  }
}

const isRow = (of: object): of is CompiledRow => '$shape' in of

function written(row: CompiledRow, code: number, old: unknown): Change | 'nothing' {
  const { each, place } = row.$shape
  const cell = each[code >> 1]
  if (cell === undefined) return 'nothing'
  const saved = cell.reference === undefined ? cell.form.save(old) : (old ?? null)
  return ['cell', place, row.$number, cell.at, saved]
}

function renaming({ shape }: KeyedTable, code: number, old: unknown): Change | 'nothing' {
  if (code !== KeyedTable.NAMED) return 'nothing' // numbers are never given again
  const { row, names } = old as { readonly row: CompiledRow; readonly names: RowNames | undefined }
  return ['renamed', shape.place, row.$number, savedNames(names)]
}

const savedNames = (names: RowNames | undefined): SavedNames | null =>
  names === undefined ? null : saveNames(names)
const shownNames = (saved: SavedNames | null): RowNames | undefined =>
  saved === null ? undefined : loadNames(saved)
