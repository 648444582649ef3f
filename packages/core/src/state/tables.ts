import { RefereeError } from '../kit/index.ts'
import type { Seat } from './cell.ts'
import type { CompiledRow, PolicyRow, RowShape } from './row-class.ts'
import type { Store } from './store.ts'

const dotted = (path: string): string => path.slice(1).replaceAll('/', '.')

const ADDED = 0
const REMOVED = 1
const COUNTED = 0
const RENAMED = 1

/** A row as a snapshot has it: number, public id, values. */
export type SavedRow = readonly [number: number, id: string, values: readonly unknown[]]
export interface SavedPart {
  readonly next?: number
  readonly rows: readonly SavedRow[]
}

/** The rows of one part of the state in one match. */
export interface StoredPart {
  save(): SavedPart
  /** Fills an empty part. The step that does so is never taken back. */
  load(saved: SavedPart): void
  readonly shape: RowShape
  /** In the order of their numbers. */
  rows(): Iterable<CompiledRow>
}

/** The rows of a part by id, with adding and removing that a step can take back. */
class RowMap {
  readonly byId: Map<string, CompiledRow> = new Map()
  /** In the order of their numbers. */
  readonly inOrder: CompiledRow[] = []
  private readonly store: Store
  private readonly shape: RowShape

  constructor(store: Store, shape: RowShape) {
    this.store = store
    this.shape = shape
  }

  add(row: CompiledRow): void {
    this.assertOpen()
    this.changed(row, ADDED)
    this.put(row)
  }

  remove(row: CompiledRow): void {
    this.assertOpen()
    this.changed(row, REMOVED)
    this.take(row)
  }

  $restore(code: number, row: unknown): void {
    if (code === ADDED) this.take(row as CompiledRow)
    else this.put(row as CompiledRow)
  }

  rename(row: PolicyRow, id: string): void {
    this.byId.delete(row.$id)
    row.$id = id
    row.$where = ''
    this.byId.set(id, row)
  }

  save(): SavedRow[] {
    return this.inOrder.map((row) => [row.$number, row.$id, row.$save()])
  }

  load(rows: readonly SavedRow[]): void {
    for (const [number, id, values] of rows) {
      const row = new this.shape.RowOf(this.store, id, number)
      row.$load(values)
      this.put(row)
      if (this.shape.facets !== undefined) this.store.touch(row as PolicyRow)
    }
  }

  private assertOpen(): void {
    if (!this.store.open) this.store.refuse(this.shape.path)
  }

  private changed(row: CompiledRow, code: number): void {
    this.store.undo.note(this, code, row)
    this.store.woken |= this.shape.wakes
    const { seenByEveryone, seenByOwner, facets } = this.shape
    if (seenByEveryone || seenByOwner || facets !== undefined) this.store.list(row)
    if (facets !== undefined) this.store.touch(row as PolicyRow)
  }

  private put(row: CompiledRow): void {
    row.$live = true
    this.byId.set(row.id, row)
    let at = this.inOrder.length
    while (at > 0 && (this.inOrder[at - 1] as CompiledRow).$number > row.$number) at--
    this.inOrder.splice(at, 0, row)
  }

  private take(row: CompiledRow): void {
    row.$live = false
    this.byId.delete(row.id)
    const last = this.inOrder.length - 1
    if (this.inOrder[last] === row) this.inOrder.pop()
    else this.inOrder.splice(this.inOrder.indexOf(row), 1)
  }
}

/** A row for each seat. */
export class SeatTable implements StoredPart {
  readonly shape: RowShape
  private readonly map: RowMap
  private readonly store: Store

  constructor(store: Store, shape: RowShape) {
    this.store = store
    this.shape = shape
    this.map = new RowMap(store, shape)
  }

  rows(): readonly CompiledRow[] {
    return this.map.inOrder
  }

  of(seat: Seat): CompiledRow {
    const row = this.map.byId.get(seat)
    if (row !== undefined) return row
    this.store.missing ??= seat
    const error = new RefereeError('ZR_STATE_NO_ROW', {
      table: dotted(this.shape.path),
      id: String(seat),
    })
    return this.store.fail(error)
  }

  save(): SavedPart {
    return { rows: this.map.save() }
  }

  load({ rows }: SavedPart): void {
    this.map.load(rows)
  }

  open(seat: Seat, number: number): void {
    this.map.add(new this.shape.RowOf(this.store, seat, number))
  }

  close(seat: Seat): void {
    this.map.remove(this.of(seat))
  }
}

/** The one row of a part declared as `single`. */
export class SingleTable implements StoredPart {
  readonly shape: RowShape
  readonly row: CompiledRow

  constructor(store: Store, shape: RowShape) {
    this.shape = shape
    this.row = new shape.RowOf(store, '', 0)
    this.row.$told = true // it stands in every view from the first on
  }

  rows(): readonly CompiledRow[] {
    return [this.row]
  }

  save(): SavedPart {
    return { rows: [[0, '', this.row.$save()]] }
  }

  load({ rows: [row] }: SavedPart): void {
    this.row.$load(row?.[2] ?? [])
  }
}

/** Rows that handlers add and remove. Rows that nobody sees go by their number, others by a public id. */
export class KeyedTable implements StoredPart {
  readonly shape: RowShape
  private readonly map: RowMap
  private readonly store: Store
  private readonly mint: () => string
  private next = 1

  constructor(store: Store, shape: RowShape, mint: () => string) {
    this.store = store
    this.shape = shape
    this.mint = mint
    this.map = new RowMap(store, shape)
  }

  rows(): readonly CompiledRow[] {
    return this.map.inOrder
  }

  all(): readonly CompiledRow[] {
    return [...this.map.inOrder]
  }

  get(id: string): CompiledRow | undefined {
    return this.map.byId.get(id)
  }

  add(given: object): CompiledRow {
    const row = new this.shape.RowOf(
      this.store,
      this.shape.seenByEveryone || this.shape.facets !== undefined ? this.freshId() : '',
      this.next,
      given,
    )
    this.store.undo.note(this, COUNTED, this.next)
    this.next++
    this.map.add(row)
    return row
  }

  remove(id: string): void {
    const row = this.map.byId.get(id)
    if (row !== undefined) this.map.remove(row)
    else this.store.fail(new RefereeError('ZR_STATE_NO_ROW', { table: dotted(this.shape.path), id }))
  }

  where(cells: object): readonly CompiledRow[] {
    const wanted = Object.entries(cells)
    return this.map.inOrder.filter((row) => wanted.every(([name, value]) => row.$cell(name) === value))
  }

  clear(): void {
    for (const row of this.all()) this.map.remove(row)
  }

  save(): SavedPart {
    return { next: this.next, rows: this.map.save() }
  }

  load({ next = 1, rows }: SavedPart): void {
    this.next = next
    this.map.load(rows)
  }

  /** A new public id, so that nobody who has lost sight of the row can follow it. */
  rename(row: PolicyRow): void {
    const id = this.freshId()
    this.store.undo.note(this, RENAMED, { row, id: row.$id })
    this.map.rename(row, id)
  }

  $restore(code: number, old: unknown): void {
    if (code === COUNTED) this.next = old as number
    else {
      const { row, id } = old as { row: PolicyRow; id: string }
      this.map.rename(row, id)
    }
  }

  private freshId(): string {
    const id = this.mint()
    return this.map.byId.has(id) ? this.freshId() : id
  }

  /** What the hash must know beside the rows. */
  counter(): number {
    return this.next
  }
}
