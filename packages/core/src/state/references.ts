import type { AnyCell, Gone } from './cell.ts'
import { type CellForm, formOf } from './cell-form.ts'
import { rowCell, tableOf, withEach } from './row-cells.ts'
import type { Store } from './store.ts'

/** A cell that names rows of a table, at any depth: it keeps their numbers, and is read and written by their inner ids. */
export interface RowReference {
  /** Such as `market.crates`. */
  readonly table: string
  /** True for a bare reference or a maybe, whose rows an index can find. */
  readonly single: boolean
  /** What becomes of the cell when a row that it names is removed. */
  readonly gone: Gone
  /** How the numbers are kept, saved and written as text. */
  readonly form: CellForm
  /** Ids as handlers read them, from what is kept. A row that has gone is left out. */
  read(store: Store, kept: unknown): unknown
  /** What is kept, from ids. Returns nothing if one of them names no row. */
  write(store: Store, ids: unknown): unknown
  /** True if the row of this number is named. */
  names(kept: unknown, number: number): boolean
  /** The JSON text for somebody who knows rows by these ids, and does not see those without one. */
  text(kept: unknown, idOf: (number: number) => string | undefined): string
}

/** The reference in a cell: bare, or in lists, sets, maps and maybes. Returns nothing for a cell that names no rows. */
export function referenceOf(cell: AnyCell, rule: string): RowReference | undefined {
  const inner = rowCell(cell)
  if (inner?.table === undefined) return undefined
  const table = tableOf(inner, rule)
  const form = formOf(cell)
  const read: RowReference['read'] = (store, kept) => {
    const rows = store.tables.get(table)
    return form.keep(withEach(cell, kept, (number) => rows?.idOf(number as number)))
  }
  return {
    table,
    form,
    single: cell === inner || (cell.kind === 'maybe' && cell.of === inner),
    gone: cell.gone ?? inner.gone ?? (cell === inner ? 'forbid' : 'clear'),
    read,
    write(store, ids) {
      const rows = store.tables.get(table)
      let isKnown = true
      const numbers = withEach(cell, ids, (id) => {
        const number = rows?.numberOf(String(id))
        isKnown &&= number !== undefined
        return number
      })
      return isKnown ? form.keep(numbers) : undefined
    },
    names(kept, number) {
      let isNamed = false
      withEach(cell, kept, (each) => {
        isNamed ||= each === number
        return each
      })
      return isNamed
    },
    text: (kept, idOf) => form.text(form.keep(withEach(cell, kept, (number) => idOf(number as number)))),
  }
}
