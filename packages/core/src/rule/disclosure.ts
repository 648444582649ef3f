import type { Chance } from '../chance/index.ts'

/** A secret that a rule reveals on purpose: which, by what, to whom, and why. */
export interface Disclosure {
  /** A cell ('rule.part.cell'), how many hidden rows a table has ('rule.part'), or what chance gives ('draws'). */
  readonly secret: string
  /**
   * The inputs and events that reveal it ('rule.name'), or 'time' for whatever timers do; 'always' for what a view
   * shows before anything has happened, 'again' for a value by which a row is recognised when it comes back into
   * sight.
   */
  readonly by: string | readonly string[]
  /**
   * Who learns it: 'everyone'; 'asker', the seat whose action it is; a cell of that input or event that holds a seat
   * or seats; or a group ('rule.group').
   */
  readonly to: string
  /** Why it may be revealed, for readers of the audit. */
  readonly why: string
}

/** What a rule gets when the sight audit asks for another state. */
export interface VariationAsked {
  /** True if the viewer, who must notice nothing, sees this cell of a row now. */
  sees(row: { readonly id: string }, cell: string): boolean
  readonly chance: Chance
}
