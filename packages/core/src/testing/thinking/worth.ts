import type { Seat } from '../../cells/index.ts'
import type { AnyMatch } from '../../rulebook/index.ts'
import { scoresOf, sidesOf } from '../rehearsal/standing.ts'

/** What a match is worth to a seat: 1 if it has won, 0 if not; before its end by how many it is ahead of. */
export function worthOf(match: AnyMatch, seat: Seat): number {
  const end = match.state.verdict?.end
  if (end?.kind === 'win') return end.winners.includes(seat) ? 1 : 0
  if (end?.kind != null) return 0.5
  const scores = new Map(match.allSeats.map((each, at) => [each, scoresOf(match)[at] ?? 0]))
  const friends = [...sidesOf(match).values()].find((side) => side.includes(seat)) ?? [seat]
  const own = scores.get(seat) ?? 0
  const others = [...scores].filter(([each]) => !friends.includes(each)).map(([, score]) => score)
  if (others.length === 0) return 0.5
  const ahead = others.reduce((sum, score) => sum + (own > score ? 1 : own === score ? 0.5 : 0), 0)
  return ahead / others.length
}
