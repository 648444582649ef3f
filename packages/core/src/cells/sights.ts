import { type Audience, allViewers, anyOf, noViewers, only, type Seat } from './audience.ts'

/** How far a sight can reach, as far as types can know. `owner` and `some` reach some viewers. */
export type Reach = 'nobody' | 'owner' | 'some' | 'everyone'

/** Who may see a cell. */
export interface Sight<R extends Reach = Reach> {
  /** How far it reaches, as far as types can know. */
  readonly reach: R
  /** Whom it names, where it is no group. */
  readonly who?: 'everyone' | 'owner' | 'side'
  /** A group of the rule itself, or of the rule named before the dot. */
  readonly group?: string
  /** The setting that names it, where a rule leaves it to the rulebook. */
  readonly setting?: string
}

/** What a sight may read beside its row. Everything that it reads is tracked, and it is asked again when that changes. */
export interface SightContext {
  /** The seats that are taken and have not left this bout, by seat number. */
  readonly seats: readonly Seat[]
  /** Another rule's calls, those that only read. */
  use<C>(rule: { readonly name: string; readonly spec?: { readonly is: { readonly calls: C } } }): C
  /** Whoever is in a group of a rule now. */
  members(group: Sight): Audience
  /** A seat and those on its side. */
  sideOf(seat: Seat | undefined): Audience
}

/** Every viewer, spectators too. */
export const everyone: Sight<'everyone'> & Audience = { reach: 'everyone', who: 'everyone', ...allViewers }
/** The seat whose row it is, and nobody else. In an event: its cell named `seat`. */
export const owner: Sight<'owner'> = { reach: 'owner', who: 'owner' }
/** The row's owner and those on its side: its team where a rule of the rulebook makes teams, else itself. */
export const side: Sight<'some'> = { reach: 'some', who: 'side' }
/** Nobody: what a cell has when nothing is said. */
export const nobody: Sight<'nobody'> & Audience = { reach: 'nobody', ...noViewers }
/** Left to the rulebook: the named setting of the rule is 'everyone', 'side', 'owner' or 'nobody'. A match cannot change it. */
export const bySetting = (setting: string): Sight<'some'> => ({ reach: 'some', setting })

/** The seats in a group: of one's own rule by name, of another's by handle. A rule declares them in `groups`. */
export function group(name: string): Sight<'some'>
export function group(rule: { readonly name: string }, name: string): Sight<'some'>
export function group(rule: string | { readonly name: string }, name?: string): Sight<'some'> {
  return { reach: 'some', group: typeof rule === 'string' ? rule : `${rule.name}.${name}` }
}

/** How far several sights together reach, as far as types can know. */
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

/** Told apart by whom they name. */
export const sightKey = (sights: readonly Sight[]): string =>
  sights
    .map(({ who, group: name }) => name ?? who ?? '')
    .sort()
    .join(' ')

/** Whoever is meant by one of these sights of something that a seat owns. */
export function audienceOf(sights: readonly Sight[], owns: Seat | undefined, look: SightContext): Audience {
  return anyOf(
    ...sights.map((sight) => {
      if (sight.group !== undefined) return look.members(sight)
      if (sight.who === 'everyone') return allViewers
      if (sight.who === 'side') return look.sideOf(owns)
      return sight.who === 'owner' ? only(owns) : noViewers
    }),
  )
}
