import { escapeInPath } from '../cells/index.ts'
import { flat, type Lanes } from '../kit/index.ts'
import type {
  CompiledRow,
  PlacedCell,
  RowClass,
  RowIndex,
  RowLayout,
  RowNames,
  RowShape,
  RowStore,
} from './row.ts'
import { RowIds } from './row-ids.ts'
import { isEdited, mayBeNothing, sharedCells } from './row-layout.ts'

/** The class of a part's rows without generated code: slower, and the same in every word. See row-source.ts. */
export function closureRow(layout: RowLayout): RowClass {
  class Row extends ClosureRow {}
  const shared = layout.facets.map((facet) => sharedCells(layout.each, facet))
  Object.defineProperties(Row.prototype, { $layout: { value: layout }, $shared: { value: shared } })
  for (const cell of layout.each)
    Object.defineProperty(Row.prototype, cell.name, {
      get(this: Row) {
        const kept = this.$values[cell.at]
        return cell.reference === undefined ? kept : cell.reference.read(this.$store, kept)
      },
      set(this: Row, value: unknown) {
        this.$write(cell, value)
      },
    })
  return Row
}

/** A row whose cells are read and written by what its layout says. */
class ClosureRow implements CompiledRow {
  declare readonly $layout: RowLayout
  /** By facet: its cells except references. */
  declare readonly $shared: readonly (readonly PlacedCell[])[]
  declare readonly $shape: RowShape
  readonly $store: RowStore
  $id: string
  readonly $number: number
  $live = true
  $sent = false
  $listed = false
  $where = ''
  $names: RowNames | undefined
  $sentNames: RowNames | undefined
  $ids: RowIds | undefined
  $lanes: Lanes | undefined
  $index: RowIndex | undefined
  readonly $values: unknown[]
  readonly $was: unknown[] = []
  readonly $marks: number[]
  /** Times when rate-limited cells were last sent. */
  readonly $sentAt: number[] = []

  constructor(store: RowStore, id: string, number: number, given?: object) {
    this.$store = store
    this.$id = id
    this.$number = number
    this.$values = this.$layout.each.map(({ name }) => this.$layout.firsts[name])
    this.$marks = new Array(this.$layout.words).fill(0)
    if (this.$layout.byRow)
      Object.assign(this, { $touched: false, $sights: [], $sentSights: [], $masks: [], $sentMasks: [] })
    this.$take(given)
    Object.preventExtensions(this)
  }

  $take(given: object | undefined): void {
    const { $store: store } = this
    for (const name of Object.keys(given ?? {}))
      if (!(name in this.$layout.firsts)) this.$layout.unknown(store, name)
    if (given === undefined) return
    for (const cell of this.$layout.each) {
      const value = (given as Record<string, unknown>)[cell.name]
      if (value !== undefined) this.$values[cell.at] = checked(this.$layout, store, cell, value)
      else if (cell.cell.required) this.$layout.wrong(store, cell.name, value)
    }
  }

  get id(): string {
    if (this.$id !== '') return this.$id
    return this.$layout.drawn && this.$layout.isSeen ? this.$store.identify(this) : String(this.$number)
  }

  $restore(code: number, old: unknown): void {
    this.$lanes = undefined
    const cell = this.$layout.each[code >> 1] as PlacedCell
    const was = this.$values[cell.at]
    this.$values[cell.at] = old
    if (cell.indexed) this.$index?.moved(this, cell.name, was)
    if (cell.seen && (code & 1) === 0) this.$unmark(cell)
  }

  $keep(code: number, old: unknown): void {
    const cell = this.$layout.each[code >> 1] as PlacedCell
    if (cell.seen && this.$values[cell.at] === old) this.$unmark(cell)
  }

  $cell(name: string): unknown {
    return (this as Record<string, unknown>)[name]
  }

  $kept(name: string): unknown {
    return this.$values[this.$layout.each.findIndex((cell) => cell.name === name)]
  }

  $save(): unknown[] {
    return this.$layout.each.map(({ form, at }) => form.save(this.$values[at]))
  }

  $load(saved: readonly unknown[]): void {
    for (const cell of this.$layout.each) {
      const { at, form, name, reference } = cell
      if (reference !== undefined) {
        this.$values[at] = form.keep(form.load(saved[at]))
        continue
      }
      const value = form.load(saved[at])
      const nothing = value === undefined && mayBeNothing(cell.cell)
      if (!nothing && cell.cell.problem(value) !== undefined) this.$layout.wrong(this.$store, name, value)
      this.$values[at] = form.keep(value)
    }
    this.$sent = true
  }

  $reset(): void {
    for (const { name } of this.$layout.each)
      (this as Record<string, unknown>)[name] = this.$layout.firsts[name]
  }

  $idUnder(name: number): string {
    if (!this.$layout.drawn) return this.id
    this.$ids ??= new RowIds()
    return this.$ids.of(this, name)
  }

  $pathUnder(name: number): string {
    if (this.$layout.drawn) {
      this.$ids ??= new RowIds()
      return this.$ids.pathOf(this, name)
    }
    if (this.$where === '')
      this.$where = flat(
        this.$layout.keyed ? `${this.$layout.path}/${escapeInPath(this.id)}` : this.$layout.path,
      )
    return this.$where
  }

  $members(facet: number): string {
    return this.$texts(this.$shared[facet] ?? [])
  }

  $edit(facet: number, op: 'add' | 'replace', where: string): string {
    return (this.$shared[facet] ?? [])
      .map((cell) => {
        const now = this.$values[cell.at]
        const path = `${where}/${cell.name}`
        if (op === 'replace' && (cell.merges || !this.$isMarked(cell) || this.$waits(cell))) return ''
        if (op === 'replace' && isEdited(cell)) return cell.form.edit?.(path, this.$was[cell.at], now) ?? ''
        return `,{"op":"${op}","path":"${path}","value":${cell.form.text(now)}}`
      })
      .join('')
  }

  $merged(facet: number): string {
    return (this.$shared[facet] ?? [])
      .filter((cell) => cell.merges && this.$isMarked(cell) && !this.$waits(cell))
      .map(({ name, form, at }) => `,"${name}":${form.text(this.$values[at])}`)
      .join('')
  }

  $drop(facet: number, where: string): string {
    return (this.$shared[facet] ?? [])
      .map(({ name }) => `,{"op":"remove","path":"${where}/${name}"}`)
      .join('')
  }

  $clean(): void {
    const { latest } = this.$store
    const marked = this.$live
      ? this.$layout.each.filter((cell) => cell.every !== undefined && this.$isMarked(cell))
      : []
    this.$listed = false
    this.$marks.fill(0)
    for (const cell of marked)
      if (this.$waits(cell)) {
        this.$marks[cell.word] = (this.$marks[cell.word] ?? 0) | cell.bit
        latest.until((this.$sentAt[cell.at] ?? 0) + (cell.every ?? 0))
      } else this.$sentAt[cell.at] = latest.now
    if (this.$marks.some((word) => word !== 0)) latest.keep(this)
  }

  $text(): string {
    return this.$texts(this.$layout.each)
  }

  $write(cell: PlacedCell, given: unknown): void {
    const old = this.$values[cell.at]
    if (cell.reference === undefined && old === given) return
    const store = this.$store
    if (!store.open) store.refuse(`${this.$layout.path}/${cell.name}`)
    const value = checked(this.$layout, store, cell, given)
    if (cell.reference !== undefined && old === value) return
    const marked = this.$isMarked(cell)
    store.undo.note(this, cell.at * 2 + (cell.seen && !marked ? 0 : 1), old)
    if (cell.seen) {
      if (marked) store.again = true
      else {
        store.fresh = true
        this.$was[cell.at] = old
        this.$marks[cell.word] = (this.$marks[cell.word] ?? 0) | cell.bit
      }
      store.list(this)
    }
    if (this.$layout.byRow) store.touch(this as CompiledRow as Parameters<RowStore['touch']>[0])
    store.woken |= this.$layout.wakes
    this.$lanes = undefined
    this.$values[cell.at] = value
    if (cell.indexed) this.$index?.moved(this, cell.name, old)
  }

  $isMarked({ word, bit }: PlacedCell): boolean {
    return ((this.$marks[word] ?? 0) & bit) !== 0
  }

  $waits({ at, every }: PlacedCell): boolean {
    const sent = this.$sentAt[at]
    return every !== undefined && sent !== undefined && this.$store.latest.waits(sent, every)
  }

  $unmark({ word, bit }: PlacedCell): void {
    this.$marks[word] = (this.$marks[word] ?? 0) & ~bit
  }

  $texts(cells: readonly PlacedCell[]): string {
    return cells.map(({ name, form, at }) => `"${name}":${form.text(this.$values[at])}`).join(',')
  }
}

/** A value as it is kept, once it has passed its check. */
function checked(
  layout: RowLayout,
  store: RowStore,
  { name, cell, form, reference }: PlacedCell,
  value: unknown,
): unknown {
  if (cell.problem(value) !== undefined) layout.wrong(store, name, value)
  if (reference === undefined) return form.keep(value)
  const kept = value === undefined ? undefined : reference.write(store, value)
  if (kept === undefined && value !== undefined) layout.wrong(store, name, value)
  return kept
}
