import type { CompiledRow, PolicyRow, RowIndex, RowShape, RowStore } from './row.ts'
import { loadNames } from './row-names.ts'
import { fillRow, type SavedPart, type SavedRow, savedRow } from './saved-part.ts'

/** The rows of a part by id, by number and by its indexed cells, with adding and removing that a step can take back. */
export class RowMap implements RowIndex {
  /** The codes under which it notes its changes. */
  static readonly ADDED = 1
  static readonly REMOVED = 3
  /** By seat or by inner id; rows whose inner id nobody has asked for are not in it. */
  readonly byId: Map<string, CompiledRow> = new Map()
  readonly shape: RowShape
  /** In the order of their numbers, with rows that have gone since somebody last went through them. */
  private list: CompiledRow[] = []
  private gone = 0
  private readonly store: RowStore
  /** By indexed cell, the rows that hold a value. */
  private readonly indexes: ReadonlyMap<string, Map<unknown, Set<CompiledRow>>> | undefined

  constructor(store: RowStore, shape: RowShape) {
    this.store = store
    this.shape = shape
    this.indexes =
      shape.indexed.length === 0 ? undefined : new Map(shape.indexed.map((cell) => [cell, new Map()]))
  }

  /** In the order of their numbers. */
  get inOrder(): readonly CompiledRow[] {
    if (this.gone > 0) this.clearOut()
    return this.list
  }

  add(row: CompiledRow): void {
    this.assertOpen()
    this.changed(row, RowMap.ADDED)
    this.put(row)
  }

  remove(row: CompiledRow): void {
    this.assertOpen()
    this.changed(row, RowMap.REMOVED)
    this.take(row)
  }

  $restore(code: number, row: unknown): void {
    if (code === RowMap.ADDED) this.take(row as CompiledRow)
    else this.put(row as CompiledRow)
  }

  /** The row of a seat, or of an inner id. */
  find(id: string): CompiledRow | undefined {
    if (this.byId.size < this.list.length - this.gone && !this.byId.has(id))
      for (const row of this.inOrder) if (row.$id === '') this.store.identify(row)
    return this.byId.get(id)
  }

  isIdentified(id: string): boolean {
    return this.byId.has(id)
  }

  /** A row has its inner id now. */
  identified(row: CompiledRow): void {
    this.byId.set(row.$id, row)
  }

  save(): SavedRow[] {
    return this.inOrder.map(savedRow)
  }

  load({ rows, cells }: SavedPart): void {
    for (const saved of rows) {
      const row = new this.shape.RowOf(this.store, saved.seat ?? '', saved.number)
      fillRow(row, saved, cells)
      if (saved.names !== undefined) row.$names = loadNames(saved.names)
      this.put(row)
    }
  }

  /** The rows with these values, in the order of their numbers. */
  where(cells: object): readonly CompiledRow[] {
    const wanted = Object.entries(cells)
    const [name, value] = wanted.find(([cell]) => this.indexes?.has(cell)) ?? []
    const holds = (row: CompiledRow): boolean => wanted.every(([cell, is]) => row.$cell(cell) === is)
    if (name === undefined) return this.inOrder.filter(holds)
    const kept = this.keptOf(name, value)
    if (kept === undefined && value !== undefined) return [] // it names no row that is there
    const rows = this.holding(name, kept)
    return wanted.length === 1 ? rows : rows.filter(holds)
  }

  /** A value as a cell keeps it: a row that it names by its number. */
  private keptOf(cell: string, value: unknown): unknown {
    const { reference } = this.shape.each.find(({ name }) => name === cell) ?? {}
    return reference === undefined || value === undefined ? value : reference.write(this.store, value)
  }

  /** The rows that keep a value in an indexed cell. */
  holding(cell: string, kept: unknown): CompiledRow[] {
    const index = this.indexes?.get(cell)
    const rows = [...(index?.get(kept) ?? [])]
    // Rows are added by number. Only those that came back or changed their value need sorting, once.
    if (rows.some((row, at) => at > 0 && row.$number < (rows[at - 1] as CompiledRow).$number))
      index?.set(kept, new Set(rows.sort((a, b) => a.$number - b.$number)))
    return rows
  }

  byNumber(number: number): CompiledRow | undefined {
    const row = this.list[this.placeOf(number)]
    return row?.$live && row.$number === number ? row : undefined
  }

  moved(row: CompiledRow, cell: string, old: unknown): void {
    this.unlist(row, cell, old)
    this.enlist(row, cell)
  }

  private assertOpen(): void {
    if (!this.store.open) this.store.refuse(this.shape.path)
  }

  private changed(row: CompiledRow, code: number): void {
    this.store.undo.note(this, code, row)
    this.store.woken |= this.shape.wakes
    if (this.shape.isSeen) this.store.list(row)
    if (this.shape.byRow) this.store.touch(row as PolicyRow)
  }

  /** True if the ids of its rows are made when they are first asked for. */
  private get isNamed(): boolean {
    return this.shape.drawn && this.shape.isSeen
  }

  private put(row: CompiledRow): void {
    row.$live = true
    if (row.$id !== '' || !this.isNamed) this.byId.set(row.id, row)
    const at = this.placeOf(row.$number)
    if (this.list[at] === row) this.gone--
    else this.list.splice(at, 0, row)
    if (this.indexes === undefined) return
    row.$index = this
    for (const cell of this.indexes.keys()) this.enlist(row, cell)
  }

  private take(row: CompiledRow): void {
    row.$live = false
    if (row.$id !== '' || !this.isNamed) this.byId.delete(row.id)
    if (this.list.at(-1) === row) this.list.pop()
    else if (++this.gone * 2 > this.list.length) this.clearOut()
    if (this.indexes === undefined) return
    row.$index = undefined
    for (const cell of this.indexes.keys()) this.unlist(row, cell, row.$kept(cell))
  }

  private clearOut(): void {
    this.list = this.list.filter(({ $live }) => $live)
    this.gone = 0
  }

  /** Returns the index of the first row with this number or a higher one. */
  private placeOf(number: number): number {
    let [from, to] = [0, this.list.length]
    if ((this.list.at(-1)?.$number ?? 0) < number) return to
    while (from < to) {
      const middle = (from + to) >> 1
      if ((this.list[middle] as CompiledRow).$number < number) from = middle + 1
      else to = middle
    }
    return from
  }

  private enlist(row: CompiledRow, cell: string): void {
    const rows = this.indexes?.get(cell)
    const value = row.$kept(cell)
    const there = rows?.get(value)
    if (there === undefined) rows?.set(value, new Set([row]))
    else there.add(row)
  }

  private unlist(row: CompiledRow, cell: string, value: unknown): void {
    const rows = this.indexes?.get(cell)
    const there = rows?.get(value)
    there?.delete(row)
    if (there?.size === 0) rows?.delete(value)
  }
}
