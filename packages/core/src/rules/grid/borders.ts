import { keyOf, type Size, type Spot, stepFrom } from './board.ts'

/** A side that two cells share, by the points at its ends. */
export interface Border {
  readonly from: Spot
  readonly to: Spot
}

const sides = [
  { dx: 1, dy: 0, from: [1, 0], to: [1, 1] },
  { dx: -1, dy: 0, from: [0, 0], to: [0, 1] },
  { dx: 0, dy: 1, from: [0, 1], to: [1, 1] },
  { dx: 0, dy: -1, from: [0, 0], to: [1, 0] },
] as const

/** Returns the sides where a cell of the first set touches one of the second. */
export function bordersOf(cells: readonly Spot[], others: readonly Spot[], size: Size): Border[] {
  const there = new Set(others.map(keyOf))
  return cells.flatMap((cell) =>
    sides.flatMap(({ dx, dy, from, to }) => {
      const beside = stepFrom(cell, dx, dy, { ...size, wrap: false })
      if (beside === undefined || !there.has(keyOf(beside))) return []
      return [
        { from: { x: cell.x + from[0], y: cell.y + from[1] }, to: { x: cell.x + to[0], y: cell.y + to[1] } },
      ]
    }),
  )
}

/** Returns how many sides the longest unbroken edge has: sides joined at their ends. */
export function longestEdge(borders: readonly Border[]): number {
  const left = new Set(borders)
  let longest = 0
  for (const first of borders) {
    if (!left.delete(first)) continue
    const edge = [first]
    for (const side of edge)
      for (const other of left)
        if (touch(side, other)) {
          left.delete(other)
          edge.push(other)
        }
    longest = Math.max(longest, edge.length)
  }
  return longest
}

const touch = (a: Border, b: Border): boolean =>
  [a.from, a.to].some((end) => keyOf(end) === keyOf(b.from) || keyOf(end) === keyOf(b.to))
