import { type ScoreSheet, scoreSheet } from 'zinc-referee/replica'
import type { HostedMatch } from '../matches/index.ts'

/** How a bout ended, for whoever keeps the players' accounts. */
export interface Verdict {
  /** The same one is never another verdict, even after a crash: whoever has taken it may ignore it. */
  readonly id: string
  readonly match: string
  readonly mode: string
  readonly bout: number
  /** How it ended: its kind, its winners, and why. */
  readonly end: { readonly kind: string; readonly winners: readonly string[]; readonly reason: string }
  /** The seats. `player` is who it is by its admission; a venue without admissions does not tell. */
  readonly seats: readonly {
    readonly seat: string
    readonly name: string
    readonly bot: boolean
    readonly player?: string
  }[]
  /** The score sheet. */
  readonly sheet: ScoreSheet
}

/** Returns the verdict of a match whose bout is over; nothing while it is played, or if the mode gives none. */
export function verdictOf({ id, match, key }: HostedMatch, tellsPlayers: boolean): Verdict | undefined {
  const { phases, roster, verdict } = match.state
  const { phase, bout } = phases.now
  if (phase !== 'over' || verdict?.end.kind == null) return undefined
  const { kind, winners, reason } = verdict.end
  return {
    id: `${key}-${bout}`,
    match: id,
    mode: match.rulebook,
    bout,
    end: { kind, winners, reason },
    seats: match.allSeats.map((seat) => {
      const { name, bot, player } = roster.seats.of(seat)
      return { seat, name, bot, ...(tellsPlayers && !bot && { player }) }
    }),
    sheet: scoreSheet(match.view('spectator')),
  }
}
