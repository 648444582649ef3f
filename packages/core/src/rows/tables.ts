import type { Audience, Seat } from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { CompiledRow, PolicyRow, RowNames, RowShape, RowStore } from './row.ts'
import { RowMap } from './row-map.ts'
import { namesAfter, namesBack, renewed } from './row-names.ts'
import { fillRow, type SavedPart, savedCells, savedRow } from './saved-part.ts'

const dotted = (path: string): string => path.slice(1).replaceAll('/', '.')

const COUNTED = 1

/** The rows of one part of the state in one match. */
export interface StoredPart {
  save(): SavedPart
  /** Fills an empty part. The step that does so is never taken back. */
  load(saved: SavedPart): void
  readonly shape: RowShape
  /** In the order of their numbers. */
  rows(): Iterable<CompiledRow>
}

/** A row for each seat. */
export class SeatTable implements StoredPart {
  readonly shape: RowShape
  private readonly map: RowMap
  private readonly byId: ReadonlyMap<string, CompiledRow>
  private readonly store: RowStore

  constructor(store: RowStore, shape: RowShape) {
    this.store = store
    this.shape = shape
    this.map = new RowMap(store, shape)
    this.byId = this.map.byId
  }

  rows(): readonly CompiledRow[] {
    return this.map.inOrder
  }

  of(seat: Seat): CompiledRow {
    return this.byId.get(seat) ?? this.none(seat)
  }

  save(): SavedPart {
    return { cells: savedCells(this.shape), rows: this.map.save() }
  }

  load(saved: SavedPart): void {
    this.map.load(saved)
  }

  open(seat: Seat, number: number): void {
    this.map.add(new this.shape.RowOf(this.store, seat, number))
  }

  close(seat: Seat): void {
    this.map.remove(this.of(seat))
  }

  private none(seat: Seat): never {
    this.store.missing ??= seat
    const table = dotted(this.shape.path)
    return this.store.fail(new RefereeError('ZR_STATE_NO_ROW', { table, id: String(seat) }))
  }
}

/** The one row of a part declared as `single`. */
export class SingleTable implements StoredPart {
  readonly shape: RowShape
  readonly row: CompiledRow

  constructor(store: RowStore, shape: RowShape) {
    this.shape = shape
    this.row = new shape.RowOf(store, '', 0)
    this.row.$sent = true // it is in every view from the first on
    if (shape.byRow) store.touch(this.row as PolicyRow)
  }

  rows(): readonly CompiledRow[] {
    return [this.row]
  }

  save(): SavedPart {
    return { cells: savedCells(this.shape), rows: [savedRow(this.row)] }
  }

  load({ rows: [row], cells }: SavedPart): void {
    if (row !== undefined) fillRow(this.row, row, cells)
  }
}

/** Rows that handlers add and remove. Rows that nobody sees go by their number, others by an inner id. */
export class KeyedTable implements StoredPart {
  /** The code under which a change of a row's names is noted. */
  static readonly NAMED = 3
  readonly shape: RowShape
  private readonly map: RowMap
  private readonly store: RowStore
  private next = 1

  constructor(store: RowStore, shape: RowShape) {
    this.store = store
    this.shape = shape
    this.map = new RowMap(store, shape)
  }

  rows(): readonly CompiledRow[] {
    return this.map.inOrder
  }

  all(): readonly CompiledRow[] {
    return [...this.map.inOrder]
  }

  get(id: string): CompiledRow | undefined {
    return this.map.find(id)
  }

  /** True if this is the inner id of a row here, and some handler may know it. */
  isIdentified(id: string): boolean {
    return this.shape.isSeen && this.map.isIdentified(id)
  }

  add(given: object): CompiledRow {
    const row = new this.shape.RowOf(this.store, '', this.next, given)
    this.store.undo.note(this, COUNTED, this.next)
    this.next++
    this.map.add(row)
    return row
  }

  remove(id: string): void {
    const row = this.map.find(id)
    if (row !== undefined) this.removeRow(row)
    else this.store.fail(new RefereeError('ZR_STATE_NO_ROW', { table: dotted(this.shape.path), id }))
  }

  /** Cells that name the row let go of it, go with it, or forbid it. */
  removeRow(row: CompiledRow): void {
    this.map.remove(row)
    this.store.releaseReferences(this.shape.path, row.$number)
  }

  renew(id: string): void {
    const row = this.map.find(id)
    if (row === undefined)
      this.store.fail(new RefereeError('ZR_STATE_NO_ROW', { table: dotted(this.shape.path), id }))
    if (!this.store.open) this.store.refuse(this.shape.path)
    if (!this.shape.isSeen) return // nobody knows it by an id
    this.setNames(row, renewed(row.$names))
    this.store.list(row)
    if (this.shape.byRow) this.store.touch(row as PolicyRow)
  }

  where(cells: object): readonly CompiledRow[] {
    return this.map.where(cells)
  }

  /** The rows whose cell names the row of that number. */
  naming(cell: string, number: number): readonly CompiledRow[] {
    return this.map.holding(cell, number)
  }

  /** Removes all rows; the caller sees to it that cells that name them let go, once all that is cleared with them has gone. */
  clear(): readonly CompiledRow[] {
    const rows = this.all()
    for (const row of rows) this.map.remove(row)
    return rows
  }

  idOf(number: number): string | undefined {
    return this.map.byNumber(number)?.id
  }

  numberOf(id: string): number | undefined {
    return this.map.find(id)?.$number
  }

  row(number: number): CompiledRow | undefined {
    return this.map.byNumber(number)
  }

  save(): SavedPart {
    return { next: this.next, cells: savedCells(this.shape), rows: this.map.save() }
  }

  load(saved: SavedPart): void {
    this.next = saved.next ?? 1
    this.map.load(saved)
  }

  /** Called when a row's audience has changed in this step. Whoever has lost sight of the row can't follow it. */
  seenDifferently(row: CompiledRow, before: Audience, after: Audience): void {
    const names = namesAfter(row.$names, before, after)
    if (names !== row.$names) this.setNames(row, names)
  }

  /** Forgets a viewer. A later viewer with the same id knows no row by the old names. */
  forgetViewer(viewer: string): void {
    for (const row of this.map.inOrder) {
      const names = row.$names
      if (names?.seats.has(viewer) !== true) continue
      const seats = new Map(names.seats)
      seats.delete(viewer)
      this.setNames(row, { ...names, seats })
    }
  }

  /** A row that was taken back with all that it held. */
  bringBack(number: number, values: readonly unknown[], names: RowNames | undefined): void {
    const row = new this.shape.RowOf(this.store, '', number)
    row.$load(values)
    row.$sent = false
    row.$names = names
    this.store.broughtBack = new Set(this.store.broughtBack).add(row)
    this.map.add(row)
  }

  /** The names that a row had before are shown again. */
  renameBack(row: CompiledRow, names: RowNames | undefined): void {
    this.setNames(row, namesBack(row.$names, names))
    this.store.broughtBack = new Set(this.store.broughtBack).add(row)
    this.store.list(row)
    if (this.shape.byRow) this.store.touch(row as PolicyRow)
  }

  $restore(code: number, old: unknown): void {
    if (code === COUNTED) this.next = old as number
    else {
      const { row, names } = old as { readonly row: CompiledRow; readonly names: RowNames | undefined }
      row.$names = names
      row.$lanes = undefined
    }
  }

  /** A row has its inner id now. */
  identified(row: CompiledRow): void {
    this.map.identified(row)
  }

  private setNames(row: CompiledRow, names: RowNames | undefined): void {
    this.store.undo.note(this, KeyedTable.NAMED, { row, names: row.$names })
    row.$names = names
    row.$lanes = undefined
  }

  /** Returns the part of the hash that the rows do not show. */
  counter(): number {
    return this.next
  }
}
