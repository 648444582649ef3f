import type { ClientMatch } from '@zinc-referee/venue/client'
import type { AnyView, RulebookDescription } from 'zinc-referee'

/** What a part of a column shows: a match as its client sees it. */
export interface Shown {
  readonly match: ClientMatch<AnyView>
  readonly rulebook: Pick<RulebookDescription, 'rules'>
  /** A seat or a row, as a person knows it. */
  readonly nameOf: (id: string) => string
}
