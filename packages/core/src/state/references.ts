import type { AnyCell, Gone } from './cell.ts'
import type { Store } from './store.ts'

/** A cell that names rows of a table: it keeps their numbers, and is read and written by their ids. */
export interface RowReference {
  /** Such as `market.crates`. */
  readonly table: string
  readonly many: boolean
  readonly gone: Gone
  /** Ids as handlers read them, from what is kept. */
  read(store: Store, kept: unknown): unknown
  /** What is kept, from ids; nothing where one of them names no row. */
  write(store: Store, ids: unknown): unknown
}

/** The reference in a cell, bare, in a maybe or in a list. */
export function referenceOf(cell: AnyCell, rule: string): RowReference | undefined {
  const inner = cell.kind === 'row' ? cell : cell.of?.kind === 'row' ? cell.of : undefined
  if (inner?.table === undefined) return undefined
  const table = inner.table.includes('.') ? inner.table : `${rule}.${inner.table}`
  const gone = cell.gone ?? 'forbid'
  const one = {
    read: (store: Store, kept: unknown) =>
      kept === undefined ? undefined : store.tables.get(table)?.idOf(kept as number),
    write: (store: Store, id: unknown) => store.tables.get(table)?.numberOf(String(id)),
  }
  if (cell.kind !== 'list') return { table, many: false, gone, ...one }
  return {
    table,
    many: true,
    gone,
    read: (store, kept) =>
      Object.freeze((kept as readonly number[]).map((number) => one.read(store, number))),
    write(store, ids) {
      const numbers = (ids as readonly unknown[]).map((id) => one.write(store, id))
      return numbers.includes(undefined) ? undefined : Object.freeze(numbers)
    },
  }
}
