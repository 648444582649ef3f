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

/** By span, the parts whose cells go back to their first values with it. */
export type PartsBySpan = { readonly [S in Span]: readonly (readonly [rule: number, part: number])[] }

export function partsBySpan(rules: readonly { readonly parts: readonly PartPlan[] }[]): PartsBySpan {
  const within = (span: Span) =>
    rules.flatMap(({ parts }, rule) =>
      parts.flatMap((part, at): (readonly [number, number])[] =>
        inOrder.indexOf(part.span) <= inOrder.indexOf(span) ? [[rule, at]] : [],
      ),
    )
  return {
    turn: within('turn'),
    life: within('life'),
    round: within('round'),
    bout: within('bout'),
    match: within('match'),
  }
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
  // Rows that are cleared together may name one another; only what stays must let go.
  for (const row of cleared) store.letGo(row.$shape.path, row.$number)
}
