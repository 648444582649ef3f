import type { Point } from 'zinc-referee/rules'

/** Returns how far apart two places are. */
export const away = (a: Point, b: Point): number => Math.hypot(a.x - b.x, a.y - b.y)

/** Returns the nearest of these places. Returns nothing if there is none. */
export const nearest = <P extends Point>(from: Point, points: readonly P[]): P | undefined =>
  [...points].sort((a, b) => away(from, a) - away(from, b))[0]
