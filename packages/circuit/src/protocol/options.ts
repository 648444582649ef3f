import type { HostClock } from 'zinc-referee/host'
import type { Member, MembersOptions } from './members.ts'
import type { Bucket, MatchStream, Shelf } from './ports.ts'

/** Where the matches of a circuit are kept. */
export interface Storage {
  readonly stream: MatchStream
  readonly shelf: Shelf
  /** The beats of its venues. */
  readonly members: Bucket
  /** Where its matches are. */
  readonly places: Bucket
}

/** Times and numbers of a circuit. All venues of one have the same. */
export interface Pace {
  /** Time between two beats of a venue, in ms. Default: 1000. */
  readonly beatEvery: number
  /** After how many beats without one of another venue that one is gone. Default: 12, longer than an election takes. */
  readonly lease: number
  /** How long a message may be on its way before its match stands still, in ms. Default: 1500. */
  readonly patience: number
  /** After how many lines a snapshot is kept. Default: 1000. */
  readonly snapshotEvery: number
  /** How long another venue may take to go on with a match that it was given, in ms. Default: 5000. */
  readonly handOver: number
}
/** The pace of a circuit where none is given. */
export const usualPace: Pace = {
  beatEvery: 1000,
  lease: 12,
  patience: 1500,
  snapshotEvery: 1000,
  handOver: 5000,
}

/** What happens in a circuit, for logs and metrics. */
export type CircuitEvent =
  | {
      readonly what: 'begun' | 'taken' | 'ended' | 'lost'
      readonly match: string
      readonly epoch: number
      readonly to?: string
    }
  | { readonly what: 'handed'; readonly match: string; readonly to: string; readonly took: number }
  | { readonly what: 'stands still' | 'goes on'; readonly match: string }
  | { readonly what: 'broken'; readonly match: string; readonly why: string }
  | { readonly what: 'replaced'; readonly by: string }

/** One venue of a circuit. */
export interface CircuitOptions {
  readonly storage: Storage
  readonly clock: HostClock
  readonly pace: Pace
  readonly self: () => Member
  readonly isSilent: MembersOptions['isSilent']
  /** Asks a venue to take a match that was let go of. Resolves with false if it does not, or does not answer. */
  readonly giveTo: (to: Member, match: string) => Promise<boolean>
  /** Keeps the lines of a match that has ended. */
  readonly archive: (match: string, mode: string, lines: readonly string[]) => Promise<void>
  readonly happened: (event: CircuitEvent) => void
}
