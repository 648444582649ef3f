import { CircuitRecord } from './circuit-record.ts'
import { Committer } from './committer.ts'
import { messageIn } from './messages.ts'
import type { CircuitOptions } from './options.ts'
import type { Found } from './read-match.ts'
import { subjectOf } from './subjects.ts'

/** A match that this venue owns. */
export interface Owned {
  readonly mode: string
  readonly epoch: number
  readonly committer: Committer
  readonly record: CircuitRecord
}
/** Behind what it is written. */
export type Start = Pick<Found, 'after' | 'expected' | 'lines' | 'epoch'>

/** Which match is owned, by whom, and what becomes of it. */
export interface Owning {
  readonly id: string
  readonly mode: string
  readonly by: string
  /** Which ownership of this start of the venue it is. */
  readonly turn: number
  /** For a new match: resolves when it may begin. */
  readonly mayBegin: Promise<void> | undefined
  /** Somebody else owns it now. */
  readonly lost: (to: string) => void
  /** It has ended, and its end is safe. */
  readonly ended: () => void
  readonly happened: CircuitOptions['happened']
}

/** Returns what writes a match from here on, in an epoch of its own. */
export function ownMatch(
  { storage, clock, pace }: CircuitOptions,
  { after, expected, lines, epoch: before }: Start,
  { id, mode, by, turn, mayBegin, lost, ended, happened }: Owning,
): Owned {
  const epoch = before + 1
  const subject = subjectOf(id)
  const committer = new Committer({
    stream: storage.stream,
    clock,
    subject,
    by,
    turn,
    epoch,
    after,
    expected,
    lines,
    patience: pace.patience,
    stuck: (isStuck) => {
      if (isStuck) record.hosted?.pause()
      else record.hosted?.resume()
      happened({ what: isStuck ? 'stands still' : 'goes on', match: id })
    },
    fenced: (other) => lost(other === undefined ? by : messageIn(other.text).by),
  })
  const record = new CircuitRecord({
    committer,
    shelf: storage.shelf,
    clock,
    subject,
    snapshotEvery: pace.snapshotEvery,
    covered: lines,
    mayBegin,
    begun: () => happened({ what: 'begun', match: id, epoch }),
    ended,
  })
  return { mode, epoch, committer, record }
}
