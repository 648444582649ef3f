import { KeyedTable, type Seat, type Span, type StoredPart } from '../state/index.ts'
import type { PartPlan } from './plan.ts'

/** A part of a rule's state with its rows in one match. */
export interface StoredRulePart {
  readonly plan: PartPlan
  readonly stored: StoredPart
}

/** A longer span contains the shorter ones. */
const inOrder: readonly Span[] = ['turn', 'life', 'round', 'bout', 'match']

/** Sets the cells of a span, and of those within it, back to their first values: of one seat, or of all. */
export function resetSpan(parts: readonly StoredRulePart[], span: Span, seat: Seat | undefined): void {
  for (const { plan, stored } of parts)
    if (inOrder.indexOf(plan.span) <= inOrder.indexOf(span)) reset(stored, seat)
}

function reset(stored: StoredPart, seat: Seat | undefined): void {
  if (stored instanceof KeyedTable) {
    if (seat === undefined) stored.clear()
    return
  }
  for (const row of stored.rows()) if (seat === undefined || row.id === seat) row.$reset()
}
