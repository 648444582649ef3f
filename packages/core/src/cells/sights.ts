import { type Audience, allViewers, anyOf, noViewers, only, type Seat } from './audience.ts'

/** How far a sight can reach, as far as types can tell. `owner` and `some` reach some viewers. */
export type Reach = 'nobody' | 'owner' | 'some' | 'everyone'

/** An audience that a cell or a part names by `seenBy`. */
export interface Sight<R extends Reach = Reach> {
  /** How far it reaches, as far as types can tell. */
  readonly reach: R
  /** The audience that it names, unless it is a group. */
  readonly who?: 'everyone' | 'owner' | 'side' | 'near'
  /** A group of the rule itself, or of the rule named before the dot. */
  readonly group?: string
  /** The setting that decides, if a rule leaves it to the rulebook. */
  readonly setting?: string
}

/** What a sight may read besides its row. Everything that it reads is tracked, and it runs again when that changes. */
export interface SightContext {
  /** The seats that are taken and have not left this bout, by seat number. */
  readonly seats: readonly Seat[]
  /** Another rule's calls, those that only read. */
  use<C>(rule: { readonly name: string; readonly spec?: { readonly is: { readonly calls: C } } }): C
  /** Returns who is in a group of a rule now. */
  members(group: Sight): Audience
  /** Returns a seat and the others on its side. */
  sideOf(seat: Seat | undefined): Audience
  /** Returns who sees where a seat is, including the seat itself. */
  nearOf(seat: Seat | undefined): Audience
}

/** Every viewer, including spectators. */
export const everyone: Sight<'everyone'> & Audience = { reach: 'everyone', who: 'everyone', ...allViewers }
/** The seat that owns the row, and nobody else. In an event: its cell named `seat`. */
export const owner: Sight<'owner'> = { reach: 'owner', who: 'owner' }
/** The row's owner and those on its side: its team if a rule of the rulebook makes teams, otherwise only itself. */
export const side: Sight<'some'> = { reach: 'some', who: 'side' }
/**
 * The row's owner and whoever sees where that seat is, as the rule that places seats decides: `areas`. Without such a
 * rule, only the owner.
 */
export const near: Sight<'some'> = { reach: 'some', who: 'near' }
/** Nobody. This is the default of every cell. */
export const nobody: Sight<'nobody'> & Audience = { reach: 'nobody', ...noViewers }
/**
 * Leaves it to the rulebook: the named setting of the rule is 'everyone', 'side', 'near', 'owner' or 'nobody'. A
 * match can't change it.
 */
export const bySetting = (setting: string): Sight<'some'> => ({ reach: 'some', setting })

/**
 * The seats in a group: of the rule itself by name, of another rule by handle. A rule declares its groups in
 * `groups`.
 */
export function group(name: string): Sight<'some'>
export function group(rule: { readonly name: string }, name: string): Sight<'some'>
export function group(rule: string | { readonly name: string }, name?: string): Sight<'some'> {
  return { reach: 'some', group: typeof rule === 'string' ? rule : `${rule.name}.${name}` }
}

/** How far several sights reach together, as far as types can tell. */
export type ReachOf<S extends readonly Sight[]> = S extends readonly [Sight<infer R>]
  ? R
  : 'everyone' extends S[number]['reach']
    ? 'everyone'
    : S[number]['reach'] extends 'nobody'
      ? 'nobody'
      : 'some'

export function reachOf(sights: readonly Sight[]): Reach {
  const reaches = new Set(sights.map(({ reach }) => reach).filter((reach) => reach !== 'nobody'))
  if (reaches.has('everyone')) return 'everyone'
  const [only] = reaches
  return reaches.size > 1 ? 'some' : (only ?? 'nobody')
}

/** Distinguished by whom they name. */
export const sightKey = (sights: readonly Sight[]): string =>
  sights
    .map(({ who, group: name }) => name ?? who ?? '')
    .sort()
    .join(' ')

/** Returns everyone covered by one of these sights, for something that a seat owns. */
export function audienceOf(sights: readonly Sight[], owns: Seat | undefined, look: SightContext): Audience {
  return anyOf(
    ...sights.map((sight) => {
      if (sight.group !== undefined) return look.members(sight)
      if (sight.who === 'everyone') return allViewers
      if (sight.who === 'side') return look.sideOf(owns)
      if (sight.who === 'near') return look.nearOf(owns)
      return sight.who === 'owner' ? only(owns) : noViewers
    }),
  )
}
