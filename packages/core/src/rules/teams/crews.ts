import type { Seat } from '../../cells/index.ts'
import type { Match } from './shape.ts'

export const teamOf = (match: Match, seat: Seat): number => match.own.side.of(seat).team

/** Returns the seats of a team that have not left, by seat number. */
export const crew = (match: Match, team: number): Seat[] =>
  match.seats.filter((seat) => match.own.side.of(seat).picked && match.own.side.of(seat).team === team)

export const everyTeam = (match: Match): number[] =>
  Array.from({ length: match.settings.count }, (_, team) => team)

export const scoreOf = (match: Match, team: number): number => match.own.sums.score[team] ?? 0

export const areFoes = (match: Match, a: Seat, b: Seat): boolean => teamOf(match, a) !== teamOf(match, b)

const sizeWithout = (match: Match, team: number, seat: Seat): number =>
  crew(match, team).filter((each) => each !== seat).length

/** Fewest seats, then the lower score, then the lowest index; or at random among the teams with fewest seats. */
export function neediest(match: Match, joiner: Seat): number {
  const need = everyTeam(match).map((team) => ({
    team,
    seats: sizeWithout(match, team, joiner),
    score: scoreOf(match, team),
  }))
  need.sort((a, b) => a.seats - b.seats || a.score - b.score || a.team - b.team)
  const smallest = need.filter(({ seats }) => seats === need[0]?.seats)
  const found = match.settings.pick === 'random' ? match.chance('teams').pick(smallest) : smallest[0]
  return found?.team ?? 0
}

export function switchTo(match: Match, seat: Seat, team: number) {
  match.own.side.of(seat).team = team
  match.emit('switched', { seat, team })
}

/** The largest and the smallest team, the lowest index first. */
function extremes(match: Match): readonly [largest: readonly Seat[], smallest: number, difference: number] {
  const sizes = everyTeam(match).map((team) => crew(match, team))
  const most = Math.max(...sizes.map(({ length }) => length))
  const least = Math.min(...sizes.map(({ length }) => length))
  const largest = sizes.find(({ length }) => length === most) ?? []
  return [largest, sizes.findIndex(({ length }) => length === least), most - least]
}

/** Moves the latest joiner of the largest team to the smallest, until they differ by no more than allowed. */
export function balance(match: Match) {
  for (;;) {
    const [largest, smallest, difference] = extremes(match)
    const latest = largest.at(-1)
    if (difference <= match.settings.maxDifference || latest === undefined) return
    switchTo(match, latest, smallest)
  }
}

/** True if this move would leave teams that differ by too much. */
export function isUneven(match: Match, seat: Seat, to: number): boolean {
  const sizes = everyTeam(match).map((team) => sizeWithout(match, team, seat) + (team === to ? 1 : 0))
  return Math.max(...sizes) - Math.min(...sizes) > match.settings.maxDifference
}
