import type { Seat } from 'zinc-referee'
import type { AdmissionCheck } from '../admissions.ts'
import type { CircuitLink } from '../circuit-link.ts'
import type { HostedMatch, Matches, Wanted, Watchable } from '../matches/index.ts'
import type { Trail } from './trail.ts'
import type { Visitor } from './visitor.ts'

/** The part of a venue that its visitors use. */
export interface Doors {
  /** Returns the match that somebody wants, or nothing if it is not there. @throws ZR_VENUE_UNKNOWN_MODE, ZR_VENUE_FULL */
  find(wanted: Wanted): HostedMatch | undefined
  /** If true, anyone may see through the eyes of a seat. For showing a game, never for serious play. */
  readonly allowViewAsAnySeat: boolean
  /** If true, whoever watches without an admission may report and direct. For work on a mode, never for serious play. */
  readonly allowDriving: boolean
  /** Where matches are that other venues of a circuit have. */
  readonly circuit?: CircuitLink | undefined
  /** Returns a seat id for a player of this name. */
  seatFor(hosted: HostedMatch, name: string): Seat
  joined(hosted: HostedMatch, seat: Seat): void
  /** Returns a viewer id for a client without a seat. */
  spectatorId(): string
  /** Checks a token, where the venue asks for one: who has none that is valid stays outside. */
  readonly admit?: AdmissionCheck | undefined
  /** By match and seat, who has it now. */
  readonly seated: Map<string, Visitor>
  /** By match and seat, the updates of a seat that somebody has, or may come back to. */
  readonly trails: Map<string, Trail>
  /** Counts one more or one less who watches a match. Returns false, and counts nothing, if there are too many. */
  watches(watched: Watchable, by: 1 | -1): boolean
  /** Calls `then` after this many ms, unless what it returns is called before. */
  wait(ms: number, then: () => void): () => void
}

/** Returns the doors of a venue with these matches. */
export function doorsOf(
  matches: Matches,
  {
    maxWatchers,
    ...given
  }: Pick<Doors, 'admit' | 'allowDriving' | 'allowViewAsAnySeat' | 'circuit' | 'joined' | 'wait'> & {
    readonly maxWatchers: number
  },
): Doors {
  let spectators = 0
  const watchers = new WeakMap<Watchable, number>()
  return {
    ...given,
    watches(watched, by) {
      const count = (watchers.get(watched) ?? 0) + by
      if (by === 1 && count > maxWatchers) return false
      watchers.set(watched, count)
      return true
    },
    find: (wanted) => matches.find(wanted),
    seatFor: freeSeatId,
    spectatorId: () => `spectator-${++spectators}`,
    seated: new Map(),
    trails: new Map(),
  }
}

/**
 * Returns a seat id made from the name, with a number if the id is taken. It is never an id that another player had
 * in this match, because the state may still name that player.
 */
function freeSeatId({ match, seatIds }: HostedMatch, name: string): Seat {
  const base =
    name
      .trim()
      .toLowerCase()
      .normalize('NFKD')
      .replaceAll(/[^a-z0-9]+/g, '-')
      .replaceAll(/^-|-$/g, '')
      .slice(0, 20) || 'guest'
  const safe = /^(server$|spectator|former-)/.test(base) ? `seat-${base}` : base
  for (let n = 1; ; n++) {
    const id = n === 1 ? safe : `${safe}-${n}`
    if (!match.allSeats.includes(id) && !seatIds.has(id)) return id
  }
}
