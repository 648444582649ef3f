/** How tied places are numbered. For 100 90 90 80: 1 2 2 4, 1 2 2 3, 1 3 3 4, 1 2 3 4, or 1 2.5 2.5 4. */
export type RankStyle = 'competition' | 'dense' | 'modified' | 'ordinal' | 'fractional'

/** Returns the ranks of a list in order, best first, given for each place whether it is tied with the one before it. */
export function rankGroups(levelWithBefore: readonly boolean[], style: RankStyle): number[] {
  const ranks: number[] = []
  let group = 0
  for (let first = 0; first < levelWithBefore.length; ) {
    let next = first + 1
    while (next < levelWithBefore.length && levelWithBefore[next] === true) next++
    group++
    for (let at = first; at < next; at++) {
      ranks.push(
        {
          competition: first + 1,
          dense: group,
          modified: next,
          ordinal: at + 1,
          fractional: (first + 1 + next) / 2,
        }[style],
      )
    }
    first = next
  }
  return ranks
}
