import type { AnyCell, Gone } from './cell.ts'
import { type CellForm, formOf } from './cell-form.ts'
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

/** The cell of a row's id inside a cell, if there is one. */
export const rowCell = (cell: AnyCell): AnyCell | undefined =>
  cell.kind === 'row' ? cell : cell.of === undefined ? undefined : rowCell(cell.of)

/** A table by its full name: one without a rule's name is that rule's own. */
export const tableOf = ({ table = '' }: AnyCell, rule: string): string =>
  table.includes('.') ? table : `${rule}.${table}`

/**
 * A value of a cell with each of its innermost values replaced. Where nothing comes back, the value is left out of a
 * list, set or map, unless that holds maybes; alone, it is nothing.
 */
export function withEach(cell: AnyCell, value: unknown, replace: (innermost: unknown) => unknown): unknown {
  const { kind, of } = cell
  if (of === undefined) return replace(value)
  if (kind === 'maybe') return value === undefined ? undefined : withEach(of, value, replace)
  const isKept = (item: unknown): boolean => item !== undefined || of.kind === 'maybe'
  if (kind === 'list')
    return (value as readonly unknown[]).map((item) => withEach(of, item, replace)).filter(isKept)
  if (kind === 'set')
    return new Set(
      [...(value as ReadonlySet<unknown>)].map((item) => withEach(of, item, replace)).filter(isKept),
    )
  return new Map(
    [...(value as ReadonlyMap<string, unknown>)]
      .map(([key, item]) => [key, withEach(of, item, replace)] as const)
      .filter(([, item]) => isKept(item)),
  )
}
