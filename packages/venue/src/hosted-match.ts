import type { AnyMatch, Seat } from 'zinc-referee'
import { type HostOptions, MatchHost } from 'zinc-referee/host'

/** A match of a venue, running in real time. */
export class HostedMatch extends MatchHost {
  /** The id by which clients join it. */
  readonly id: string
  /** Every id that a seat of this match has had. */
  readonly seatIds: Set<Seat> = new Set()

  /** Delay for spectators, in ms. */
  readonly spectatorDelay: number

  /** The path of its record; undefined if none is kept. */
  readonly record: string | undefined

  constructor(id: string, match: AnyMatch, options: HostOptions, record?: string) {
    super(match, options)
    this.id = id
    this.record = record
    this.spectatorDelay = options.spectatorDelay ?? 0
  }
}
