/** Returns every choice of one to `most` of these. */
export function upTo<V>(most: number, items: readonly V[]): V[][] {
  const sets: V[][] = [[]]
  for (const item of items) for (const set of [...sets]) if (set.length < most) sets.push([...set, item])
  return sets.slice(1)
}

/** Returns each list once; lists with equal items count as one. */
const distinct = <V extends string>(lists: readonly V[][]): V[][] => [
  ...new Map(lists.map((each) => [each.join(), each] as const)).values(),
]

/** True if both have the same faces, in any order. */
export const sameFaces = (one: readonly string[], other: readonly string[]): boolean =>
  [...one].sort().join() === [...other].sort().join()

/**
 * Returns the ids of a card of each of these faces, or undefined if there are not enough. Of those alike the first by id:
 * which one goes does not tell which came first.
 */
export function ofFaces(
  cards: readonly { readonly id: string; readonly face: string }[],
  faces: readonly string[],
): string[] | undefined {
  const left = [...cards].sort((a, b) => (a.id < b.id ? -1 : 1))
  const ids: string[] = []
  for (const face of faces) {
    const at = left.findIndex((card) => card.face === face)
    if (at < 0) return undefined
    ids.push(...left.splice(at, 1).map(({ id }) => id))
  }
  return ids
}

/** Returns every way to dip one or two of these wicks and burn up to three of the others. */
export const waysToDip = <V extends string>(held: readonly V[]) =>
  distinct(upTo(2, held)).flatMap((dipped) => {
    const rest = [...held]
    for (const each of dipped) rest.splice(rest.indexOf(each), 1)
    return distinct([[], ...upTo(3, rest)]).map((burnt) => ({ dipped, burnt }))
  })
