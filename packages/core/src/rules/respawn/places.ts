import type { Seat } from '../../cells/index.ts'
import { RefereeError, withEntry } from '../../kit/index.ts'
import { areas } from '../areas/areas.ts'
import { apart } from '../areas/nearness.ts'
import type { Point } from '../areas/shape.ts'
import { rounds } from '../rounds.ts'
import { teams } from '../teams/teams.ts'
import { vitals } from '../vitals/vitals.ts'
import type { Match, Place } from './shape.ts'

const teamOf = (match: Match, seat: Seat): number | undefined => match.use(teams)?.of(seat)

/** Places belong to an end of the field: teams that have swapped ends have swapped places. */
function endOf(match: Match, seat: Seat): number | undefined {
  const all = match.use(teams)
  if (all === undefined) return undefined
  return match.use(rounds)?.endOf(all.of(seat), all.count()) ?? all.of(seat)
}

const isFoe = (match: Match, seat: Seat, other: Seat): boolean =>
  other !== seat && (match.use(teams)?.foes(seat, other) ?? true)

/** Where the foes that are up are. */
function foesOf(match: Match, seat: Seat): Point[] {
  return match.seats.flatMap((other) => {
    if (!isFoe(match, seat, other) || !match.use(vitals).isUp(other)) return []
    return match.use(areas)?.spot(other) ?? []
  })
}

/** One counter per team. If all are blocked, the one that was used longest ago. */
function inTurn(match: Match, seat: Seat, all: readonly Place[], free: readonly Place[]): Place | undefined {
  const { places } = match.own
  const team = String(teamOf(match, seat) ?? '')
  const turn = places.turn.get(team) ?? 0
  const waiting = all.map((_, at) => all[(turn + at) % all.length])
  const next = waiting.find((place) => place !== undefined && free.includes(place)) ?? oldest(match, all)
  if (next === undefined) return undefined
  places.turn = withEntry(places.turn, team, all.indexOf(next) + 1)
  return next
}

function oldest(match: Match, all: readonly Place[]): Place | undefined {
  const used = ({ name }: Place): number => match.own.places.usedAt.get(name) ?? -1
  const least = Math.min(...all.map(used))
  return all.find((place) => used(place) === least)
}

/** At random among those not yet drawn. When all were drawn, they are shuffled again. */
function shuffled(match: Match, free: readonly Place[]): Place | undefined {
  const { places } = match.own
  const left = free.filter(({ name }) => !places.drawn.has(name))
  const drawn =
    left.length === 0
      ? [...places.drawn].filter((name) => !free.some((each) => each.name === name))
      : places.drawn
  const place = match.chance('places').pick(left.length === 0 ? free : left)
  if (place === undefined) return undefined
  places.drawn = new Set([...drawn, place.name])
  return place
}

/** The place farthest from its nearest foe; the first one if tied. */
function farthest(free: readonly Place[], foes: readonly Point[]): Place | undefined {
  const room = free.map((place) => Math.min(...foes.map((foe) => apart(place, foe))))
  return free[room.indexOf(Math.max(...room))]
}

function byIndex(match: Match, seat: Seat, free: readonly Place[]): Place | undefined {
  const mates = match.use(teams)?.mates(seat) ?? match.seats
  return free[mates.indexOf(seat) % free.length]
}

function chosen(
  seat: Seat,
  places: readonly Place[],
  foes: readonly Point[],
  match: Match,
): Place | undefined {
  const name = match.config.choose?.({ seat, places, foes })
  const place = places.find((each) => each.name === name)
  if (place === undefined)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `respawn's 'choose' gave '${name}', which is none of ${places.map((each) => each.name).join(', ')}`,
      fix: 'Give the name of one of the places that it was asked about',
    })
  return place
}

/** Returns the place for a seat's next life, or nothing if its team has none. */
export function placeFor(match: Match, seat: Seat, begins: boolean): Place | undefined {
  const end = endOf(match, seat)
  const all = match.settings.places.filter((place) => place.team === null || place.team === end)
  if (all.length === 0) return undefined
  const unblocked = all.filter(({ name }) => !match.own.places.blocked.has(name))
  const free = unblocked.length === 0 ? all : unblocked
  const { place: how } = match.settings
  const foes = how === 'far' || match.config.choose !== undefined ? foesOf(match, seat) : []
  if (match.config.choose !== undefined) return chosen(seat, free, foes, match)
  if (how === 'index') return byIndex(match, seat, free)
  if (how === 'random') return match.chance('places').pick(free)
  if (how === 'shuffled') return shuffled(match, free)
  // When a round begins, foes are still where the last round left them, so their places do not matter.
  if (how === 'far' && foes.length > 0 && !begins) return farthest(free, foes)
  return inTurn(match, seat, all, unblocked)
}
