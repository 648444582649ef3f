import { type AnyMatch, formatElapsed, replayRecord } from 'zinc-referee'
import { CommandError } from '../errors.ts'
import type { LoadedMode } from './load-mode.ts'
import { named, openLongRecord } from './open-record.ts'

/** Returns a recorded match as it was at this time, in ms. Default: as the record ends. */
export async function replayTo(
  file: string,
  rulebook: string | undefined,
  at?: number,
): Promise<{ readonly book: LoadedMode['rulebook']; readonly match: AnyMatch; readonly until: number }> {
  const { content, book } = await openLongRecord(file, rulebook)
  let last = 0
  for (const { line } of content.lines) {
    last = line.t
    if (at !== undefined && last >= at) break
  }
  if (at !== undefined && at > last)
    throw new CommandError(`The record ends at ${formatElapsed(last)}. Choose a time up to then.`)
  const until = at ?? last
  const { match, differs } = replayRecord(book, content, { until })
  if (differs !== undefined)
    throw new CommandError(
      `The record does not replay as it was made: line ${differs.line}. Run \`npx zinc-referee replay ${file}${named(rulebook)}\`.`,
    )
  return { book, match, until }
}
