import type { Seat } from '../../cells/index.ts'
import { isWithin, plainOf, type RoleKind, type RoleKinds, tableFor, teamTable, weightOf } from './kinds.ts'

/** What dealing draws from: a rule's random stream. */
export interface Draws {
  shuffle<V>(items: readonly V[]): V[]
  weighted<V>(choices: readonly (readonly [item: V, weight: number])[]): V
}
/** True if the roles fit this many seats. */
export function fits<K extends string>(
  kinds: RoleKinds<K>,
  seats: number,
  crews: readonly (readonly Seat[])[],
): boolean {
  const { left } = tableFor(kinds, seats, teamTable(kinds, crews).length)
  if (left < 0 || !Object.values<RoleKind>(kinds).every((kind) => isWithin(kind, seats))) return false
  if (left === 0 || plainOf(kinds) !== undefined) return true
  // Without a plain role, the weights must never run out.
  const roles = Object.keys(kinds) as K[]
  const most = roles.map((role) => {
    const none = [kinds[role].weight ?? 0].flat().indexOf(0)
    return none === -1 ? Number.POSITIVE_INFINITY : none
  })
  return most.reduce((sum, each) => sum + each, 0) >= left
}

/**
 * Returns a role for each seat: first those with a number in each team, then those with a number in all. Seats draw in
 * a shuffled order too, so none draws first.
 */
export function dealt<K extends string>(
  kinds: RoleKinds<K>,
  seats: readonly Seat[],
  crews: readonly (readonly Seat[])[],
  draws: Draws,
  /** How often a seat has had a role. Leave it out if that does not matter. */
  had?: (seat: Seat, role: K) => number,
): ReadonlyMap<Seat, K> {
  const order = draws.shuffle(seats)
  const given = new Map<Seat, K>()
  const fill = (role: K, among: readonly Seat[]) => {
    const free = order.filter((seat) => among.includes(seat) && !given.has(seat))
    const least = had && Math.min(...free.map((seat) => had(seat, role)))
    const seat = had === undefined ? free[0] : free.find((each) => had(each, role) === least)
    if (seat !== undefined) given.set(seat, role)
  }
  for (const { role, crew } of teamTable(kinds, crews)) fill(role, crew)
  for (const role of tableFor(kinds, seats.length).special) fill(role, seats)
  for (const seat of order) if (!given.has(seat)) given.set(seat, drawn(kinds, [...given.values()], draws))
  return given
}

/** By weight, or the plain role if no weight is left. */
function drawn<K extends string>(kinds: RoleKinds<K>, taken: readonly K[], draws: Draws): K {
  const roles = Object.keys(kinds) as K[]
  const weights = roles.map((role): [K, number] => [
    role,
    weightOf(kinds[role], taken.filter((each) => each === role).length),
  ])
  const plain = plainOf(kinds)
  const total = weights.reduce((sum, [, weight]) => sum + weight, 0)
  return total === 0 && plain !== undefined ? plain : draws.weighted(weights)
}
