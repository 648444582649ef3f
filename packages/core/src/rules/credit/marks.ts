import type { Seat } from '../../cells/index.ts'
import { largestRemainder } from '../shares.ts'
import type { Match } from './shape.ts'

/** What one foe did to a target. */
export interface Damage {
  readonly by: Seat
  readonly amount: number
}
type Layer = 'health' | 'shield'

/** Friend or foe is decided when the mark is made, even if somebody changes sides later. */
export function mark(match: Match, target: Seat, by: Seat, taken: { readonly [L in Layer]: number }) {
  // A late fact counts from the time when it happened, for memory windows only.
  match.own.marks.add({ target, by, ...taken, at: match.time.play - match.time.late })
}

/** The marks on a target, the oldest first. One that was reported late is ordered by when it happened. */
export const marksOn = (match: Match, target: Seat) =>
  [...match.own.marks.where({ target })].sort((a, b) => a.at - b.at)

/** Returns the damage of each foe within the half-open window, in the order of their first marks. */
export function damageOf(match: Match, target: Seat, counts: (by: Seat) => boolean): Damage[] {
  const { assistWindow, shieldCounts } = match.settings
  const sums = new Map<Seat, number>()
  for (const { by, health, shield, at } of marksOn(match, target)) {
    const amount = health + (shieldCounts ? shield : 0)
    if (amount > 0 && match.time.play - at < assistWindow && counts(by))
      sums.set(by, (sums.get(by) ?? 0) + amount)
  }
  return [...sums].map(([by, amount]) => ({ by, amount }))
}

/** Returns the latest foe that struck or pushed the target within the window. */
export const lastFoe = (
  match: Match,
  target: Seat,
  window: number,
  counts: (by: Seat) => boolean,
): Seat | undefined =>
  marksOn(match, target).findLast(({ by, at }) => match.time.play - at < window && counts(by))?.by

/** Removes marks of what has grown back: the oldest first, whoever made them. */
export function erase(match: Match, target: Seat, layer: Layer, amount: number) {
  let left = amount
  for (const row of marksOn(match, target)) {
    const gone = Math.min(left, row[layer])
    row[layer] -= gone
    left -= gone
    if (left === 0) return
  }
}

/** Takes a heal out of all marks in proportion. */
export function eraseInProportion(match: Match, target: Seat, amount: number) {
  const rows = match.own.marks.where({ target })
  const all = rows.reduce((sum, { health }) => sum + health, 0)
  const parts = largestRemainder(
    rows.map(({ health }) => health),
    Math.min(amount, all),
  )
  for (const [at, row] of rows.entries()) row.health -= parts[at] ?? 0
}

export function forget(match: Match, target: Seat) {
  for (const { id } of match.own.marks.where({ target })) match.own.marks.remove(id)
}
