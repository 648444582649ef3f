import jsonPatch from 'fast-json-patch'

export interface Spot {
  readonly id: string
  readonly x: number
  readonly y: number
}
const NEAR = 160

/**
 * The pond as one would write it first: after each tick a copy of what is near for each viewer, compared with its last
 * one. It forgets hysteresis and keeps no beat, which spares it work.
 */
export function filteredCopies(viewers: readonly string[], things: readonly Spot[]) {
  const known = new Map<string, object>(viewers.map((viewer) => [viewer, {}]))
  return (fish: readonly Spot[]): number => {
    const where = new Map(fish.map((each) => [each.id, each]))
    let sent = 0
    for (const viewer of viewers) {
      const from = where.get(viewer)
      const near = (spots: readonly Spot[]): object =>
        Object.fromEntries(
          spots
            .filter(({ x, y }) => from !== undefined && (x - from.x) ** 2 + (y - from.y) ** 2 <= NEAR ** 2)
            .map(({ id, x, y }) => [id, { x, y }]),
        )
      const view = { areas: { spots: near(fish), things: near(things) } }
      const operations = jsonPatch.compare(known.get(viewer) ?? {}, view)
      known.set(viewer, view)
      if (operations.length > 0) sent += JSON.stringify(operations).length
    }
    return sent
  }
}
