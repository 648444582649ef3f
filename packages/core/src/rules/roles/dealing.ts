import type { Seat } from '../../cells/index.ts'
import { withEntry } from '../../kit/index.ts'
import { refuse } from '../../rule/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { teams } from '../teams/teams.ts'
import { dealt, fits } from './deal.ts'
import { plainOf, type RoleKinds, tableFor, withCounts } from './kinds.ts'
import type { Match } from './shape.ts'

/** Returns a seat's role. */
export const roleOf = <K extends string>(match: Match<K>, seat: Seat): K => match.own.seats.of(seat).role

/** True if a seat has been dealt a role. */
export const hasRole = <K extends string>(match: Match<K>, seat: Seat): boolean =>
  !match.own.seats.of(seat).without

/** Returns the side that a role belongs to. Default: the role itself. */
export const campOf = <K extends string>(kinds: RoleKinds<K>, role: K): string => kinds[role].camp ?? role

/** Lets the seats that are in a camp now know its roles, and nobody else. */
function tell<K extends string>(match: Match<K>, kinds: RoleKinds<K>): void {
  const all = match.seating.all.filter((seat) => hasRole(match, seat))
  const campAt = (seat: Seat): string => campOf(kinds, roleOf(match, seat))
  for (const seat of all) {
    const mates = kinds[roleOf(match, seat)].tellCamp
      ? all.filter((other) => campAt(other) === campAt(seat))
      : [seat]
    const row = match.own.seats.of(seat)
    if (mates.length !== row.knownTo.size || mates.some((mate) => !row.knownTo.has(mate)))
      row.knownTo = new Set(mates)
  }
}

function give<K extends string>(match: Match<K>, seat: Seat, role: K): void {
  match.own.seats.of(seat).role = role
  match.own.seats.of(seat).without = false
  const had = match.own.had.of(seat)
  had.times = withEntry(had.times, role, (had.times.get(role) ?? 0) + 1)
}

/** Returns the seats of each team that have not left. Returns no team in a rulebook without teams. */
function crewsOf<K extends string>(match: Match<K>): readonly (readonly Seat[])[] {
  const all = match.use(teams)
  return Array.from({ length: all?.count() ?? 0 }, (_, team) => all?.crew(team) ?? [])
}

/** Returns the roles with the counts that are set now. */
const kindsNow = <K extends string>(match: Match<K>, kinds: RoleKinds<K>): RoleKinds<K> =>
  withCounts(kinds, match.settings.counts)

/** Deals all roles, and shows how many there are of each. */
export function deal<K extends string>(match: Match<K>, kinds: RoleKinds<K>): void {
  const had = (seat: Seat, role: K): number => match.own.had.of(seat).times.get(role) ?? 0
  const fair = match.settings.assign === 'fewest-before' ? had : undefined
  const roles = dealt(kindsNow(match, kinds), match.seats, crewsOf(match), match.chance('roles'), fair)
  for (const seat of match.seats) {
    const role = roles.get(seat)
    if (role === undefined) continue
    give(match, seat, role)
    match.own.seats.of(seat).revealed = false
    match.emit('assigned', { seat, role })
  }
  const counts = new Map<string, number>()
  for (const role of roles.values()) counts.set(role, (counts.get(role) ?? 0) + 1)
  // In the order of the roles. The order of the seats would reveal who drew what.
  match.own.table.counts = new Map(
    Object.keys(kinds).flatMap((role) => (counts.has(role) ? [[role, counts.get(role) ?? 0]] : [])),
  )
  tell(match, kinds)
}

/** Gives a late joiner the plain role, so that the counts give nothing away, or none. */
export function welcome<K extends string>(match: Match<K>, kinds: RoleKinds<K>, seat: Seat): void {
  if (match.use(phases).phase() === 'lobby' || match.use(phases).phase() === 'countdown') return
  if (match.settings.lateRole === 'none') {
    match.own.seats.of(seat).without = true
    return
  }
  const [first] = Object.keys(kinds) as K[]
  const role = plainOf(kinds) ?? first
  if (role === undefined) return
  give(match, seat, role)
  match.emit('assigned', { seat, role })
  tell(match, kinds)
}

/**
 * A seat that is out of play hands on its role: to one of those in play who have the plain role, of its team if the role
 * has a number in each team. It has the plain role from then on. Without anybody to take the role it stays. If the role was
 * shown, it is hidden in both cases: whether somebody had the plain role is a secret.
 */
export function passOn<K extends string>(match: Match<K>, kinds: RoleKinds<K>, seat: Seat): void {
  const [role, plain] = [roleOf(match, seat), plainOf(kinds)]
  if (plain === undefined || role === plain || !hasRole(match, seat)) return
  match.own.seats.of(seat).revealed = false
  const isMate = (other: Seat): boolean =>
    kinds[role].perTeam === undefined || match.use(teams)?.foes(seat, other) === false
  const heirs = match
    .use(roster)
    .inPlay()
    .filter((other) => hasRole(match, other) && roleOf(match, other) === plain && isMate(other))
  const heir = match.chance('heirs').pick(heirs)
  if (heir === undefined) return
  match.own.seats.of(seat).role = plain
  give(match, heir, role)
  match.emit('assigned', { seat: heir, role })
  tell(match, kinds)
}

/** Two seats exchange roles, and each is shown its new one. Nobody else notices. */
export function swap<K extends string>(match: Match<K>, kinds: RoleKinds<K>, one: Seat, other: Seat): void {
  const [role, others] = [roleOf(match, one), roleOf(match, other)]
  for (const [seat, now] of [
    [one, others],
    [other, role],
  ] as const) {
    give(match, seat, now)
    match.emit('swapped', { seat, role: now })
  }
  tell(match, kinds)
}

/** Shows a seat's role to everyone. */
export function reveal<K extends string>(match: Match<K>, seat: Seat): void {
  const row = match.own.seats.of(seat)
  if (row.revealed || row.without) return
  row.revealed = true
  match.emit('revealed', { seat, role: row.role })
}

/** Shows everybody's role to everyone. */
export function revealAll<K extends string>(match: Match<K>): void {
  for (const seat of match.seating.all) reveal(match, seat)
}

/** Refuses to start with a number of seats that the counts do not fit. */
export function refuseBadCounts<K extends string>(match: Match<K>, kinds: RoleKinds<K>) {
  const seats = match.seats.length
  const now = kindsNow(match, kinds)
  return fits(now, seats, crewsOf(match))
    ? undefined
    : refuse('bad-counts', { seats, roles: tableFor(now, seats).special.length })
}

/** Cancels a countdown if the counts no longer fit its seats. */
export function cancelBadCounts<K extends string>(match: Match<K>, kinds: RoleKinds<K>): void {
  if (match.use(phases).phase() !== 'countdown') return
  if (!fits(kindsNow(match, kinds), match.seats.length, crewsOf(match)))
    match.use(phases).cancelStart('bad-counts')
}
