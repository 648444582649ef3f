import type { Seat } from '../cells/index.ts'
import type { PartPlan } from '../plan/index.ts'
import { type CompiledRow, KeyedTable, SeatTable, type Store, type StoredPart } from '../rows/index.ts'

/** A part of a rule's state with its rows in one match. */
export interface StoredRulePart {
  readonly plan: PartPlan
  readonly stored: StoredPart
}

/** Sets the cells of these parts back to their first values: of one seat, or of all. */
export function resetParts(store: Store, parts: readonly StoredPart[], seat: Seat | undefined): void {
  const cleared: CompiledRow[] = []
  for (const stored of parts) {
    if (seat !== undefined) {
      if (stored instanceof SeatTable) stored.of(seat).$reset()
    } else if (stored instanceof KeyedTable) for (const row of stored.clear()) cleared.push(row)
    else for (const row of stored.rows()) row.$reset()
  }
  // Rows that are cleared together may name one another. Only rows that remain must drop their references.
  for (const row of cleared) store.releaseReferences(row.$shape.path, row.$number)
}
