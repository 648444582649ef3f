import { presence } from '../sight/index.ts'
import {
  KeyedTable,
  noViewers,
  type PolicyRow,
  type Store,
  sameAudience,
  someoneLost,
} from '../state/index.ts'
import type { StoredRulePart } from './spans.ts'

const same = (a: PolicyRow['$sights'], b: PolicyRow['$sights']): boolean =>
  a.length === b.length && a.every((audience, at) => sameAudience(audience, b[at] ?? noViewers))

/** The sights of rows, right through undo. */
const sights = {
  $restore(_code: number, old: unknown): void {
    const { row, sights: before } = old as { readonly row: PolicyRow; readonly sights: PolicyRow['$sights'] }
    row.$sights = before
  },
}

/**
 * At the end of a step each row that was touched says anew who sees it. A row that somebody has lost sight of gets a
 * new public id, so that it cannot be followed to where it goes. A policy may not write.
 */
export function settleSight(store: Store, parts: readonly StoredRulePart[]): void {
  for (const row of store.takeTouched()) {
    if (!row.$live) continue
    store.open = false
    const after = row.$shape.facets.map(({ policy }) => policy(row))
    store.open = true
    if (same(row.$sights, after)) continue
    store.list(row)
    const before = row.$sights.length === 0 ? noViewers : presence(row.$sights)
    store.undo.note(sights, 0, { row, sights: row.$sights })
    row.$sights = after
    if (!someoneLost(before, presence(after))) continue
    const table = parts.find(({ plan }) => plan.shape === row.$shape)?.stored
    if (table instanceof KeyedTable) table.rename(row)
  }
}
