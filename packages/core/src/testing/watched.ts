import type { RecordContent } from '../record/index.ts'
import type { CompiledRow } from '../rows/index.ts'
import { type AnyRulebook, type TracedMatch, traceRecord } from '../rulebook/index.ts'
import { deedsOf, type Wrote } from '../tracing/index.ts'

/** A cell that holds something else than what was seen to be written to it. */
export interface Unwatched {
  /** Such as `/vitals/body otter health`. */
  readonly where: string
  readonly found: string
  readonly watched: string
}

/**
 * Plays a record again and watches it. Returns the match, and the cells whose last write that was seen is not what they hold:
 * none, or something can change without being noted.
 */
export function watchRecord(
  book: AnyRulebook,
  record: string | RecordContent,
  at?: number,
): { readonly played: TracedMatch; readonly unwatched: readonly Unwatched[] } {
  const played = traceRecord(book, record, { at })
  const last = new Map<CompiledRow, Map<string, Wrote>>()
  for (const step of played.tracer.steps)
    for (const deed of deedsOf(step))
      if (deed.what === 'wrote' && !deed.isUndone)
        last.set(deed.row, (last.get(deed.row) ?? new Map<string, Wrote>()).set(deed.cell, deed))
  const unwatched = [...last].flatMap(([row, cells]) =>
    [...cells].flatMap(([cell, { after }]) => {
      const now = row.$kept(cell)
      if (now === after || !row.$live) return []
      return [
        {
          where: `${row.$shape.path} ${row.id} ${cell}`,
          found: JSON.stringify(now) ?? 'nothing',
          watched: JSON.stringify(after) ?? 'nothing',
        },
      ]
    }),
  )
  return { played, unwatched }
}
