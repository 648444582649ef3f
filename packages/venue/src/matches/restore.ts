import {
  type AnyMatch,
  type AnyRulebook,
  type Fault,
  type Line,
  resumeAnyMatch,
  type Snapshot,
} from 'zinc-referee'
import { venueError } from '../errors.ts'
import { type Keeping, KeptMatch, readSuspended, readWhole, type Suspended } from '../records/index.ts'
import type { VenueError } from '../venue-error.ts'

/** A match of an earlier process, as it was at its last safe line. */
export interface Restored {
  readonly book: AnyRulebook
  readonly match: AnyMatch
  readonly kept: KeptMatch
  readonly suspended: Suspended
  /** Every id that a seat of the match has had. */
  readonly seatIds: readonly string[]
}

/** What a record is gone on with. */
export interface RestoreOptions {
  readonly books: readonly AnyRulebook[]
  readonly keeping: Keeping
  readonly onFault: (fault: Fault, id: string) => void
  /** By mode, what makes a snapshot of an older version one of this version. */
  readonly migrate: { readonly [mode: string]: (old: Snapshot) => Snapshot }
}

/**
 * Goes on from a record that has no end: the last snapshot, and the lines behind it played again. A last line that was
 * torn off is cut from the file.
 * @throws ZR_VENUE_RECORD with the number of the line that cannot be read, or what else keeps the match from going on
 */
export function restore(path: string, { books, keeping, onFault, migrate }: RestoreOptions): Restored {
  const suspended = kept(path)
  const { id, snapshot } = suspended
  const book = books.find(({ name }) => name === snapshot.rulebook)
  if (book === undefined)
    throw broken(path, `the venue was opened without the rulebook '${snapshot.rulebook}'`, undefined)
  const { lines, bytes } = readWhole(path)
  const record = new KeptMatch(path, keeping, { lines: lines.length, bytes })
  const tail = lines.slice(suspended.lines)
  const change = migrate[snapshot.rulebook]
  try {
    const match = resumeAnyMatch(book, snapshot, {
      tail: tail.map((line) => `${line}\n`).join(''),
      record: record.write,
      onFault: (fault) => onFault(fault, id),
      ...(change !== undefined && { migrate: change }),
    })
    return { book, match, kept: record, suspended, seatIds: [...suspended.seatIds, ...tail.flatMap(seatOf)] }
  } catch (error) {
    void record.file.close()
    const why = error instanceof Error ? error.message : String(error)
    throw broken(path, `behind line ${suspended.lines}, where its last snapshot is: ${why}`, error)
  }
}

function kept(path: string): Suspended {
  try {
    return readSuspended(path)
  } catch (error) {
    throw broken(path, 'its snapshot is missing or damaged', error)
  }
}

/** The seat that a line gave to somebody. */
function seatOf(text: string): readonly string[] {
  if (!text.includes('"roster.join"')) return []
  const line = JSON.parse(text) as Line
  const { seat } = 'input' in line ? (Object(line.input) as { seat?: string }) : {}
  return seat === undefined ? [] : [seat]
}

const broken = (path: string, why: string, cause: unknown): VenueError =>
  venueError('ZR_VENUE_RECORD', { path, why }, cause)
