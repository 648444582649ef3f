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

const sizeOf = (match: Match, team: number): number => match.settings.sizes[team] ?? 1

/** Returns the seats that go where this one goes: its group, or the seat alone. */
export function unitOf(match: Match, seat: Seat): readonly Seat[] {
  const { group } = match.own.side.of(seat)
  return group === 0 ? [seat] : match.seats.filter((each) => match.own.side.of(each).group === group)
}

/** Fewest seats for its size, then the lower score, then the lowest index; or at random among those with fewest. */
export function neediest(match: Match, joiner: Seat): number {
  const need = everyTeam(match).map((team) => ({
    team,
    seats: sizeWithout(match, team, joiner) / sizeOf(match, team),
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

/** Returns by how many seats each team is larger than it is meant to be. Without sizes: how large it is. */
const excess = (match: Match): number[] =>
  everyTeam(match).map((team) => crew(match, team).length - (match.settings.sizes[team] ?? 0))

/** Returns which seats move where for a better balance, or nothing if teams are balanced or only a group could move. */
function nextMove(match: Match): { readonly unit: readonly Seat[]; readonly to: number } | undefined {
  const over = excess(match)
  const [most, least] = [Math.max(...over), Math.min(...over)]
  const { sizes, maxDifference } = match.settings
  if (sizes.length === 0 ? most - least <= maxDifference : most <= 0 || least >= 0) return undefined
  const latest = crew(match, over.indexOf(most)).toReversed()
  const unit = latest.map((seat) => unitOf(match, seat)).find(({ length }) => length < most - least)
  return unit && { unit, to: over.indexOf(least) }
}

/** Moves the latest joiners of the largest team to the smallest, until they differ by no more than allowed. */
export function balance(match: Match) {
  for (let move = nextMove(match); move !== undefined; move = nextMove(match))
    for (const seat of move.unit) switchTo(match, seat, move.to)
}

/** True if this move would leave teams that differ by too much, or are larger than they are meant to be. */
export function isUneven(match: Match, unit: readonly Seat[], to: number): boolean {
  const sizes = everyTeam(match).map(
    (team) =>
      crew(match, team).filter((seat) => !unit.includes(seat)).length + (team === to ? unit.length : 0),
  )
  const most = match.settings.sizes[to]
  if (most !== undefined) return (sizes[to] ?? 0) > most
  return Math.max(...sizes) - Math.min(...sizes) > match.settings.maxDifference
}

/** These seats stay in one team from now on: that of the first if it has room, else the one that needs them most. */
export function groupSeats(match: Match, seats: readonly Seat[]): void {
  const [first] = seats
  if (first === undefined) return
  const group = 1 + Math.max(...match.seats.map((seat) => match.own.side.of(seat).group))
  for (const seat of seats) match.own.side.of(seat).group = group
  const own = teamOf(match, first)
  const others = everyTeam(match).toSorted(
    (a, b) => crew(match, a).length / sizeOf(match, a) - crew(match, b).length / sizeOf(match, b),
  )
  const to = [own, ...others].find((team) => !isUneven(match, seats, team)) ?? own
  for (const seat of seats) if (teamOf(match, seat) !== to) switchTo(match, seat, to)
}
