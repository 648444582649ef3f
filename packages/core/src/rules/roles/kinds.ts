import { assertOptions, RefereeError } from '../../kit/index.ts'

/** Two whole numbers: the least and the most. */
type Bounds = readonly [min: number, max: number]

/** A role: how many seats have it, on whose side it is, and who knows. One with none of `count`,
 * `perTeam` and `weight` is plain. */
export interface RoleKind<C extends string = string> {
  /** This many, or this many from a number of seats on: `{ 5: 1, 7: 2 }` is none below five seats, two from seven on. */
  readonly count?: number | { readonly [seats: number]: number }
  /**
   * Within which a match may set its count, by the setting `counts`; like `count`, in all or by the number of seats.
   * Default: it may not.
   */
  readonly between?: Bounds | { readonly [seats: number]: Bounds }
  /** This many in every team that has so many seats. Needs `teams`. */
  readonly perTeam?: number
  /**
   * How likely a seat draws it, compared to the weights of other roles. A list goes by how many seats have it
   * already, and its last number counts for all further ones: `[3, 1, 0]` is at most two.
   */
  readonly weight?: number | readonly number[]
  /** The side that it belongs to. Default: a side of its own. */
  readonly camp?: C
  /** If true, its camp knows who has it. */
  readonly tellCamp?: boolean
}
/** The roles of a mode, by name. */
export type RoleKinds<K extends string, C extends string = string> = { readonly [P in K]: RoleKind<C> }

const isPlain = ({ count, perTeam, weight }: RoleKind): boolean =>
  count === undefined && perTeam === undefined && weight === undefined

const isWhole = (value: number): boolean => Number.isSafeInteger(value) && value >= 0

/** @throws ZR_SETTING_INVALID for counts and weights that are impossible, or more than one plain role */
export function assertKinds(kinds: RoleKinds<string>): void {
  const all = Object.entries(kinds)
  for (const [role, kind] of all)
    assertOptions(`role '${role}'`, kind, ['count', 'between', 'perTeam', 'weight', 'camp', 'tellCamp'])
  const plain = all.filter(([, kind]) => isPlain(kind))
  const weighted = all.filter(([, { weight }]) => weight !== undefined)
  const issues = all.flatMap(([role, { count = 0, perTeam = 0, weight = 1 }]) => [
    ...(isWhole(perTeam) ? [] : [`'perTeam' of '${role}' must be a whole number from 0 on`]),
    ...(Object.values(typeof count === 'number' ? [count] : count).every(isWhole)
      ? []
      : [`'count' of '${role}' must be whole numbers from 0 on`]),
    ...([weight].flat().every(isWhole) ? [] : [`'weight' of '${role}' must be whole numbers from 0 on`]),
  ])
  for (const [role, kind] of all)
    if (kind.between !== undefined && !numbersOfSeats(kind).every((seats) => isWithin(kind, seats)))
      issues.push(`'count' of '${role}' must be within its 'between', for each number of seats`)
  if (all.length === 0) issues.push('there is no role')
  if (plain.length > 1)
    issues.push(
      `${plain.map(([role]) => `'${role}'`).join(' and ')} have no count and no weight: only one may`,
    )
  if (plain.length === 0 && weighted.length === 0)
    issues.push('all roles have a count: one needs none, for the seats that are left')
  if (
    weighted.length > 0 &&
    weighted.every(([, { weight = 0 }]) => [weight].flat().every((each) => each === 0))
  )
    issues.push("all of 'weight' are 0: no role can be drawn")
  if (issues.length > 0) throw new RefereeError('ZR_SETTING_INVALID', { rule: 'roles', issues })
}

/** Returns how many of this many seats have a role. */
export const countOf = ({ count = 0 }: RoleKind, seats: number): number =>
  typeof count === 'number' ? count : (fromSeats(count, seats) ?? 0)

/** Returns the bounds of a role's count among this many seats. */
function boundsOf({ between = [0, Number.MAX_SAFE_INTEGER] }: RoleKind, seats: number): Bounds {
  return isPair(between) ? between : (fromSeats(between, seats) ?? [0, 0])
}

/** Returns how many of this many seats get a role: its count, or the bound that is nearest to it. */
export function dealtCount(kind: RoleKind, seats: number): number {
  const [min, max] = boundsOf(kind, seats)
  return Math.min(max, Math.max(min, countOf(kind, seats)))
}

/** True if the count of a role is within its bounds among this many seats. */
export const isWithin = (kind: RoleKind, seats: number): boolean =>
  dealtCount(kind, seats) === countOf(kind, seats)

const isPair = (between: NonNullable<RoleKind['between']>): between is Bounds => Array.isArray(between)

/** Returns what is listed for the highest number of seats that is not above this one. */
function fromSeats<V>(listed: { readonly [seats: number]: V }, seats: number): V | undefined {
  const from = Object.keys(listed)
    .map(Number)
    .filter((least) => least <= seats)
  return listed[Math.max(...from)]
}

/** Returns the numbers of seats at which a role's count or its bounds change. */
const numbersOfSeats = ({ count = 0, between = [0, 0] }: RoleKind): readonly number[] => [
  1,
  ...Object.keys(count).map(Number),
  ...(isPair(between) ? [] : Object.keys(between).map(Number)),
]

/** Returns roles whose counts are those that a match has set. */
export function withCounts<K extends string>(
  kinds: RoleKinds<K>,
  counts: { readonly [role: string]: number | undefined },
): RoleKinds<K> {
  const roles = Object.keys(kinds) as K[]
  const set = roles.filter((role) => counts[role] !== undefined)
  return set.length === 0
    ? kinds
    : { ...kinds, ...Object.fromEntries(set.map((role) => [role, { ...kinds[role], count: counts[role] }])) }
}

/** Returns the roles with a number in each team, one entry for each seat that gets one. `crews`: the seats of each team. */
export function teamTable<K extends string, S>(
  kinds: RoleKinds<K>,
  crews: readonly (readonly S[])[],
): readonly { readonly role: K; readonly crew: readonly S[] }[] {
  const roles = Object.keys(kinds) as K[]
  return crews.flatMap((crew) =>
    roles
      .flatMap((role) => Array.from({ length: kinds[role].perTeam ?? 0 }, () => ({ role, crew })))
      .slice(0, crew.length),
  )
}

/** Returns the roles that are dealt to this many seats by count, and how many seats that leaves after `taken` ones. */
export function tableFor<K extends string>(
  kinds: RoleKinds<K>,
  seats: number,
  taken = 0,
): { readonly special: readonly K[]; readonly left: number } {
  const roles = Object.keys(kinds) as K[]
  const special = roles.flatMap((role) => Array.from({ length: dealtCount(kinds[role], seats) }, () => role))
  return { special, left: seats - taken - special.length }
}

/** Returns a role's weight when this many already have it. The last one listed counts for all further ones. */
export function weightOf({ weight = 0 }: RoleKind, taken: number): number {
  const weights = [weight].flat()
  return weights[Math.min(taken, weights.length - 1)] ?? 0
}

export const plainOf = <K extends string>(kinds: RoleKinds<K>): K | undefined =>
  (Object.keys(kinds) as K[]).find((role) => isPlain(kinds[role]))
