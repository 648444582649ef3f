import type { Point } from 'zinc-referee/rules'
import { away } from '../points.ts'

/** The size of the pond, in units of a fin's breadth. */
export const pond = { width: 1200, height: 600 } as const

/** A fish comes into sight within `near` units, and is lost beyond `far`. */
export const sight = { near: 160, far: 190 } as const

/** A patch of reeds: pikes do not fit in. */
export interface Reeds extends Point {
  readonly name: string
  readonly breadth: number
}
export const reeds: readonly Reeds[] = [
  { name: 'Mill Reeds', x: 150, y: 130, breadth: 80 },
  { name: 'Lock Reeds', x: 1050, y: 470, breadth: 80 },
  { name: 'Ferry Reeds', x: 620, y: 540, breadth: 60 },
]

/** The reeds that a place lies in, if any. */
export const reedsAt = (spot: Point): Reeds | undefined =>
  reeds.find((patch) => away(patch, spot) <= patch.breadth)

/** As many midges as there are at most for each of n minnows. With more, minnows win large ponds; with fewer, pikes. */
export const mostEach = (minnows: number): number => 7 + minnows / 40
