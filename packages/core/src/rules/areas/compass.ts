/** The direction of something from a point; north is towards smaller y. */
export const directions = [
  'here',
  'north',
  'north-east',
  'east',
  'south-east',
  'south',
  'south-west',
  'west',
  'north-west',
] as const
/** One of the eight points of the compass, such as 'north-east'. */
export type Direction = (typeof directions)[number]

/**
 * Returns one of eight directions, in sectors centred on the compass points. No whole point but 0, 0 lies on a border
 * between two, because the square root of 2 is irrational. Exact for coordinates within ±2^24.
 */
export function directionOf(dx: number, dy: number): Direction {
  if (dx === 0 && dy === 0) return 'here'
  const [across, along] = [dx * dx - dy * dy, 2 * Math.abs(dx * dy)]
  const northSouth = dy < 0 ? 'north' : 'south'
  const eastWest = dx > 0 ? 'east' : 'west'
  if (across > along) return eastWest
  return -across > along ? northSouth : `${northSouth}-${eastWest}`
}
