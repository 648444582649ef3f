import { type AnyCell, type Cells, rowCell, type Sight, sightKey, tableOf } from '../cells/index.ts'

/** Cells of an event that are seen alike. */
export interface EventFacet {
  readonly names: readonly string[]
  readonly sights: readonly Sight[]
  readonly forAll: boolean
}

/** Groups an event's cells by audience. */
export function eventFacets(cells: Cells): readonly EventFacet[] {
  const seen = Object.entries(cells).filter(([, { reach }]) => reach !== 'nobody')
  const keys = [...new Set(seen.map(([, { sights }]) => sightKey(sights)))]
  return keys.map((key) => {
    const alike = seen.filter(([, { sights }]) => sightKey(sights) === key)
    const first = alike[0]?.[1]
    return {
      names: alike.map(([name]) => name),
      sights: first?.sights ?? [],
      forAll: first?.reach === 'everyone',
    }
  })
}

/** A cell of an event that names rows. */
export interface EventReference {
  readonly name: string
  readonly cell: AnyCell
  readonly table: string
}

/** The cells of an event that name rows; tables without a rule's name are that rule's own. */
export const eventReferences = (cells: Cells, rule: string): readonly EventReference[] =>
  Object.entries(cells).flatMap(([name, cell]) => {
    const inner = cell.reach === 'nobody' ? undefined : rowCell(cell)
    return inner === undefined ? [] : [{ name, cell, table: tableOf(inner, rule) }]
  })
