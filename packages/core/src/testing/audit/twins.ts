import type { Snapshot } from '../../record/index.ts'
import { type AnyRulebook, idsOf, type OpenMatch, resumeChanged } from '../../rulebook/index.ts'
import type { IdMaker } from '../../state/index.ts'

/** What differs in a twin from the match that was played. */
export interface Change {
  readonly snapshot: Snapshot
  /** Another seed for what chance will give. */
  readonly seed?: string
  /** Other ids of rows. */
  readonly ids?: IdMaker
  /** The rows whose cell was given another value, by number. */
  readonly rows: readonly number[]
}

/** A twin of a match, as it was at a snapshot. */
export function twinOf(book: AnyRulebook, snapshot: Snapshot, change?: Change): OpenMatch {
  const ids = change?.ids ?? idsOf(snapshot)
  const seed = change?.seed
  const twin = resumeChanged(book, change?.snapshot ?? snapshot, seed === undefined ? { ids } : { seed, ids })
  twin.inbox.cleaned = false
  return twin
}

/** The ids of a match, but that two rows of a table have changed theirs. */
export function exchanged(ids: IdMaker, tag: number, one: number, other: number): IdMaker {
  const rowFor = (row: number): number => (row === one ? other : row === other ? one : row)
  return { text: (table, row, name) => ids.text(table, table === tag ? rowFor(row) : row, name) }
}
