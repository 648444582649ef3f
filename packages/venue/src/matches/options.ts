import type { AnyRulebook, Fault, Seed, Snapshot } from 'zinc-referee'
import type { HostClock } from 'zinc-referee/host'
import type { Log } from '../log.ts'
import type { Keeping, RecordKeeper } from '../records/index.ts'
import type { VenueError } from '../venue-error.ts'
import type { Bots } from './bots.ts'
import type { HostedMatch } from './hosted-match.ts'
import type { Hosting } from './hosting.ts'

/** Options of a hosted match. */
export interface MatchOptions extends Partial<Hosting> {
  /** The seed of its chance. Default: random. */
  readonly seed?: Seed
  /** Settings by rule. They override those of the rulebook. */
  readonly settings?: object
  /** The optional rules that it uses. */
  readonly with?: readonly string[]
}

/** Options of the matches of a venue. */
export interface MatchesOptions {
  readonly keeping: Keeping | undefined
  /** Keeps records in place of a folder. */
  readonly keeper?: RecordKeeper | undefined
  readonly rulebooks: readonly AnyRulebook[]
  readonly clock: HostClock
  readonly onFault: (fault: Fault, match: string) => void
  /** How many there may be. */
  readonly max: number
  readonly onBroken: (error: VenueError) => void
  readonly bots: Bots | undefined
  /** By mode, what makes a snapshot of an older version one of this version. */
  readonly migrate: { readonly [mode: string]: (old: Snapshot) => Snapshot }
  readonly log: Log
  /** Called when a match runs here: one that has begun, or that goes on. */
  readonly onHost?: ((hosted: HostedMatch) => void) | undefined
  /** Called when a bout has ended, once it is safe, and again for a match that goes on when its bout has ended. */
  readonly onOver: (hosted: HostedMatch) => void
}
