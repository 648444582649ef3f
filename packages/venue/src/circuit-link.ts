import type { OpenMetricsContentType, Registry } from 'prom-client'
import type { Matches, MatchSummary, Wanted, Watchable } from './matches/index.ts'
import type { RecordKeeper } from './records/index.ts'

/** Where somebody is to join: a match of this venue, or one at the address of another. */
export interface Route {
  readonly match: string
  /** The address of the other venue's socket; undefined: here. */
  readonly url: string | undefined
}

/** Makes a venue one of many that act as one: it keeps their matches, and knows where each is. */
export interface CircuitLink extends RecordKeeper {
  /** If true, clients stay connected to this venue, which passes on what is for another. Else they are sent there. */
  readonly passesOn: boolean
  /** Called once the venue listens, with its matches, the address of its socket, and where its metrics are. */
  opened(matches: Matches, url: string, metrics: Registry<OpenMetricsContentType>): void
  /**
   * Returns where somebody is to join who wants this; undefined: what this venue finds by itself.
   * @throws ZR_VENUE_NOT_NOW if it is between two venues or no server answers, ZR_VENUE_UNKNOWN_MODE, ZR_VENUE_FULL
   */
  route(wanted: Wanted): Promise<Route | undefined>
  /** Returns the feed of a match that another venue has, for those who only watch; undefined if there is none now. */
  watch(match: string): Promise<Watchable | undefined>
  /** Somebody has taken a seat of a match here. */
  joined(match: string): void
  /** The listed matches of all other venues that answer. */
  elsewhere(): Promise<readonly MatchSummary[]>
  /** A page that shows the circuit, and asks `/circuit` for what it shows. */
  readonly page: string
  /** What the page shows: all venues, and how they do. */
  report(): Promise<object>
  /** The addresses of the other venues' sockets, for clients to come back by. */
  addresses(): readonly string[]
  /** Where pages of its venues come from, of those too that are gone: who has one open comes back by another venue. */
  origins(): readonly string[]
  /** The venue takes nobody in any more. Its matches move to others, or end with it. */
  closing(how: 'end' | 'suspend'): Promise<void>
  /** The venue is closed. */
  closed(): Promise<void>
}
