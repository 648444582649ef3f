import type { Seat } from 'zinc-referee'
import type { HostedMatch } from '../matches/index.ts'

/** Names a seat of a match among those of all matches. */
export const keyOf = ({ id }: HostedMatch, seat: Seat): string => `${id} ${seat}`

/** Returns the seat that a player has in a match. */
export function seatOf({ match }: HostedMatch, player: string): Seat | undefined {
  const { seats } = match.state.roster
  return match.allSeats.find((seat) => seats.of(seat).player === player)
}
