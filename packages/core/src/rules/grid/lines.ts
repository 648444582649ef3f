import { keyOf, type Size, type Spot, spotsOf, stepFrom } from './board.ts'

/** East, south, and the two diagonals: each line is found from one of its ends only. */
const ways = [
  [1, 0],
  [0, 1],
  [1, 1],
  [1, -1],
] as const

function walk(
  from: Spot,
  [dx, dy]: readonly [number, number],
  length: number,
  size: Size,
): Spot[] | undefined {
  const line: Spot[] = []
  const seen = new Set<string>()
  for (let n = 0; n < length; n++) {
    const spot = stepFrom(from, dx * n, dy * n, size)
    // Across a wrapped edge, a line ends where it meets itself.
    if (spot === undefined || seen.has(keyOf(spot))) return undefined
    seen.add(keyOf(spot))
    line.push(spot)
  }
  return line
}

/** Returns every straight line of this many cells: across, down and diagonal. */
export function linesOf(length: number, size: Size): Spot[][] {
  const found = new Map<string, Spot[]>()
  for (const spot of spotsOf(size))
    for (const way of ways) {
      const line = walk(spot, way, length, size)
      if (line === undefined) continue
      // On a board that wraps, the same line can be found from several of its cells.
      const key = line.map(keyOf).sort().join(' ')
      if (!found.has(key)) found.set(key, line)
    }
  return [...found.values()]
}

/** Returns the straight runs of these cells through one of them, each at full length. A gap ends a run. */
export function runsThrough(spot: Spot, among: readonly Spot[], size: Size): Spot[][] {
  const own = new Set(among.map(keyOf))
  return ways.map(([dx, dy]) => {
    const side = (sign: number): Spot[] => {
      const run: Spot[] = []
      for (let n = 1; ; n++) {
        const next = stepFrom(spot, dx * n * sign, dy * n * sign, size)
        if (next === undefined || !own.has(keyOf(next)) || keyOf(next) === keyOf(spot)) return run
        if (run.some((each) => keyOf(each) === keyOf(next))) return run
        run.push(next)
      }
    }
    const before = side(-1).reverse()
    const after = side(1).filter((each) => !before.some((one) => keyOf(one) === keyOf(each)))
    return [...before, spot, ...after]
  })
}

/** Returns the longest straight run of these cells; the first one if several are. */
export function longestRun(among: readonly Spot[], size: Size): Spot[] {
  const runs = among.flatMap((spot) => runsThrough(spot, among, size))
  return runs.reduce<Spot[]>((best, run) => (run.length > best.length ? run : best), [])
}
