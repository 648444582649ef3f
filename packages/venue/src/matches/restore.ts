import {
  type AnyMatch,
  type AnyRulebook,
  type Fault,
  type Line,
  resumeAnyMatch,
  type Snapshot,
} from 'zinc-referee'
import { venueError } from '../errors.ts'
import {
  type Keeping,
  KeptMatch,
  type KeptRecord,
  readSuspended,
  readWhole,
  type Suspended,
} from '../records/index.ts'
import type { VenueError } from '../venue-error.ts'

/** A match of an earlier process, as it was at its last safe line. */
export interface Restored {
  readonly book: AnyRulebook
  readonly match: AnyMatch
  readonly kept: KeptRecord
  readonly suspended: Suspended
  /** Every id that a seat of the match has had. */
  readonly seatIds: readonly string[]
}

/** What a match is gone on with. */
export interface RestoreOptions {
  readonly books: readonly AnyRulebook[]
  readonly onFault: (fault: Fault, id: string) => void
  /** By mode, what makes a snapshot of an older version one of this version. */
  readonly migrate: { readonly [mode: string]: (old: Snapshot) => Snapshot }
}
/** A match as it was kept: a snapshot, and the lines behind it. */
export interface Unfinished {
  /** Where its record is, for messages. */
  readonly place: string
  readonly suspended: Suspended
  readonly tail: readonly string[]
  readonly kept: KeptRecord
}

/**
 * Goes on from the file of a record that has no end. A last line that was torn off is cut from the file.
 * @throws ZR_VENUE_RECORD with the number of the line that cannot be read, or what else keeps the match from going on
 */
export function restoreFile(path: string, keeping: Keeping, options: RestoreOptions): Restored {
  const suspended = suspendedAt(path)
  bookFor(path, suspended, options.books)
  const { lines, bytes } = readWhole(path)
  const kept = new KeptMatch(path, keeping, { lines: lines.length, bytes })
  try {
    return restore({ place: path, suspended, tail: lines.slice(suspended.lines), kept }, options)
  } catch (error) {
    void kept.file.close()
    throw error
  }
}

/**
 * Goes on with a match: from its last snapshot, with the lines behind it played again.
 * @throws ZR_VENUE_RECORD with the number of the line that cannot be read, or what else keeps the match from going on
 */
export function restore(
  { place, suspended, tail, kept }: Unfinished,
  { books, onFault, migrate }: RestoreOptions,
): Restored {
  const { id, snapshot } = suspended
  const book = bookFor(place, suspended, books)
  const change = migrate[snapshot.rulebook]
  try {
    const match = resumeAnyMatch(book, snapshot, {
      tail: tail.map((line) => `${line}\n`).join(''),
      record: kept.write,
      onFault: (fault) => onFault(fault, id),
      ...(change !== undefined && { migrate: change }),
    })
    return { book, match, kept, suspended, seatIds: [...suspended.seatIds, ...tail.flatMap(seatOf)] }
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error)
    throw broken(place, `behind line ${suspended.lines}, where its last snapshot is: ${why}`, error)
  }
}

function bookFor(place: string, { snapshot }: Suspended, books: readonly AnyRulebook[]): AnyRulebook {
  const book = books.find(({ name }) => name === snapshot.rulebook)
  if (book !== undefined) return book
  throw broken(place, `the venue was opened without the rulebook '${snapshot.rulebook}'`, undefined)
}

function suspendedAt(path: string): Suspended {
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
  venueError('ZR_VENUE_RECORD', { path, why: why.replace(/\.$/, '') }, cause)
