import type { AnyCell } from '../cells/index.ts'
import { formOf, rowCell, tableOf, withEach } from '../cells/index.ts'
import type { RowReference } from './row.ts'

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
