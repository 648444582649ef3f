import type { Seat } from '../../cells/index.ts'
import type { Condition, Side } from '../conditions.ts'
import { holds } from '../holds.ts'
import { roster } from '../roster/roster.ts'
import { scores } from '../scores.ts'
import { teams } from '../teams/teams.ts'
import type { Match } from './shape.ts'

/** Returns the side of a seat: its team's number, or the seat. */
export const sideOf = (match: Match, seat: Seat): string => String(match.use(teams)?.of(seat) ?? seat)

/** Returns the teams with a seat in play by number, or the seats in play, with what they have scored, held and won. */
export function sidesOf(match: Match, scope: Condition['scope']): Side[] {
  const [team, score, held] = [match.use(teams), match.use(scores), match.use(holds)]
  const inRound = scope === 'round'
  const side = (name: string, seats: readonly Seat[], points: number): Side => ({
    seats,
    score: points,
    held: held === undefined ? 0 : seats.reduce((sum, seat) => sum + held.total(seat), 0),
    wins: match.own.rounds.wins.get(name) ?? 0,
  })
  const inPlay = match.use(roster).inPlay()
  if (team === undefined)
    return inPlay.map((seat) => side(seat, [seat], (inRound ? score?.inRound(seat) : score?.of(seat)) ?? 0))
  const crews = Array.from({ length: team.count() }, (): Seat[] => [])
  for (const seat of inPlay) crews[team.of(seat)]?.push(seat)
  return crews.flatMap((seats, number) =>
    seats.length === 0
      ? []
      : side(String(number), seats, inRound ? team.inRound(number) : team.score(number)),
  )
}

/** Returns how many sides these seats are on. */
export const sidesAmong = (match: Match, seats: readonly Seat[]): number =>
  new Set(seats.map((seat) => sideOf(match, seat))).size
