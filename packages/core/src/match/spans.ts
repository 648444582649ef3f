import {
  type CompiledRow,
  KeyedTable,
  type Seat,
  SeatTable,
  type Span,
  type Store,
  type StoredPart,
} from '../state/index.ts'
import type { PartPlan } from './plan.ts'

/** A part of a rule's state with its rows in one match. */
export interface StoredRulePart {
  readonly plan: PartPlan
  readonly stored: StoredPart
}

/** A longer span contains the shorter ones. */
const inOrder: readonly Span[] = ['turn', 'life', 'round', 'bout', 'match']

/** Sets the cells of a span, and of those within it, back to their first values: of one seat, or of all. */
export function resetSpan(
  store: Store,
  parts: readonly StoredRulePart[],
  span: Span,
  seat: Seat | undefined,
): void {
  const cleared: CompiledRow[] = []
  for (const { plan, stored } of parts) {
    if (inOrder.indexOf(plan.span) > inOrder.indexOf(span)) continue
    if (seat !== undefined) {
      if (stored instanceof SeatTable) stored.of(seat).$reset()
    } else if (stored instanceof KeyedTable) cleared.push(...stored.clear())
    else for (const row of stored.rows()) row.$reset()
  }
  // Rows that are cleared together may name one another; only what stays must let go.
  for (const row of cleared) store.letGo(row.$shape.path, row.$number)
}
