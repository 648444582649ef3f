/** A cell of a board, counted from 0 at its west and north edges. */
export interface Spot {
  /** From 0 at the west edge. */
  readonly x: number
  /** From 0 at the north edge. */
  readonly y: number
}
/** One of the four edges of a board. */
export type Edge = 'west' | 'east' | 'north' | 'south'

/** A board of squares. */
export interface Size {
  /** Squares from west to east. */
  readonly width: number
  /** Squares from north to south. */
  readonly height: number
  /** If true, cells that touch at a corner are neighbours too. */
  readonly neighbours?: 4 | 8
  /** If true, the east edge continues at the west edge, and the south edge at the north edge. */
  readonly wrap?: boolean
}

export const keyOf = ({ x, y }: Spot): string => `${x},${y}`

const wrapped = (n: number, size: number): number => ((n % size) + size) % size

/** Returns the cell this many steps away, or nothing beyond an edge that does not wrap. */
export function stepFrom(
  { x, y }: Spot,
  dx: number,
  dy: number,
  { width, height, wrap = false }: Size,
): Spot | undefined {
  const to = { x: x + dx, y: y + dy }
  if (wrap) return { x: wrapped(to.x, width), y: wrapped(to.y, height) }
  return to.x >= 0 && to.y >= 0 && to.x < width && to.y < height ? to : undefined
}

/** Returns all squares of a board, row by row. */
export function spotsOf({ width, height }: Size): Spot[] {
  return Array.from({ length: width * height }, (_, at) => ({ x: at % width, y: Math.floor(at / width) }))
}

/** Returns the neighbours of a cell on the board, each once; on a narrow board that wraps, never the cell itself. */
export function around(spot: Spot, size: Size): Spot[] {
  const found = new Map<string, Spot>()
  for (const dx of [-1, 0, 1])
    for (const dy of [-1, 0, 1]) {
      if ((dx === 0 && dy === 0) || (size.neighbours !== 8 && dx !== 0 && dy !== 0)) continue
      const there = stepFrom(spot, dx, dy, size)
      if (there !== undefined && keyOf(there) !== keyOf(spot)) found.set(keyOf(there), there)
    }
  return [...found.values()]
}

/** True if a square is on this edge of the board. */
export function isOn({ x, y }: Spot, edge: Edge, { width, height }: Size): boolean {
  return { west: x === 0, east: x === width - 1, north: y === 0, south: y === height - 1 }[edge]
}

/** Returns those of these cells that can be reached from some of them by neighbours: the very objects that were given. */
export function reach(from: readonly Spot[], among: readonly Spot[], size: Size): Spot[] {
  const left = new Map(among.map((spot) => [keyOf(spot), spot]))
  const reached: Spot[] = []
  const open = from.flatMap((spot) => left.get(keyOf(spot)) ?? [])
  for (const spot of open) left.delete(keyOf(spot))
  for (let spot = open.pop(); spot !== undefined; spot = open.pop()) {
    reached.push(spot)
    for (const next of around(spot, size)) {
      const there = left.get(keyOf(next))
      if (there !== undefined) open.push(there)
      left.delete(keyOf(next))
    }
  }
  return reached
}

/** True if an unbroken line of these cells leads from one edge to another. */
export function joins(spots: readonly Spot[], from: Edge, to: Edge, size: Size): boolean {
  const start = spots.filter((spot) => isOn(spot, from, size))
  return reach(start, spots, size).some((spot) => isOn(spot, to, size))
}
