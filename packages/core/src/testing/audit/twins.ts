import type { Snapshot } from '../../record/index.ts'
import type { IdMaker } from '../../rows/index.ts'
import { type AnyRulebook, idsOf, type OpenMatch, resumeChanged } from '../../rulebook/index.ts'

/** The difference between a twin and the match that was played. */
export interface Change {
  readonly snapshot: Snapshot
  /** Another seed for what chance will give. */
  readonly seed?: string
  /** Other ids of rows. */
  readonly ids?: IdMaker
  /** The rows that differ, by part ('rule.part') and number. */
  readonly rows: ReadonlyMap<string, readonly number[]>
}

/** Makes twins of one match. Ids are computed once for all of them, since they are the same in most. */
export class Twins {
  readonly #book: AnyRulebook
  #ids: IdMaker | undefined

  constructor(book: AnyRulebook) {
    this.#book = book
  }

  /** A twin as the match was at a snapshot. */
  at(snapshot: Snapshot, change?: Change): OpenMatch {
    this.#ids ??= kept(idsOf(snapshot))
    const { ids = this.#ids, seed } = change ?? {}
    const from = change?.snapshot ?? snapshot
    const twin = resumeChanged(this.#book, from, seed === undefined ? { ids } : { seed, ids })
    twin.inbox.cleaned = false
    return twin
  }
}

/** The same ids, each computed once. */
function kept(ids: IdMaker): IdMaker {
  const known = new Map<string, string>()
  return {
    text(table, row, name) {
      const key = `${table} ${row} ${name}`
      const id = known.get(key) ?? ids.text(table, row, name)
      known.set(key, id)
      return id
    },
  }
}

/** The ids of a match, but that two rows of a table have changed theirs. */
export function exchanged(ids: IdMaker, tag: number, one: number, other: number): IdMaker {
  const rowFor = (row: number): number => (row === one ? other : row === other ? one : row)
  return { text: (table, row, name) => ids.text(table, table === tag ? rowFor(row) : row, name) }
}
