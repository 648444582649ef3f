import type { AnyMatch } from 'zinc-referee'
import type { HostedMatch } from './hosted-match.ts'

/** What somebody watches: a match of this venue, or the feed of one that another venue of the circuit has. */
export interface Watchable
  extends Pick<HostedMatch, 'ends' | 'id' | 'isClosed' | 'now' | 'open' | 'shut' | 'watch' | 'whenSafe'> {
  readonly match: Pick<AnyMatch, 'allSeats' | 'describe' | 'rulebook'>
}
