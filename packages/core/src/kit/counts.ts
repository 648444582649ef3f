/** How several counts become one: added up, added up in ms, or the highest or lowest of them. */
export type Keeps = 'sum' | 'time' | 'most' | 'least'

/** Returns one number for several counts, at least one. */
export function joinCounts(keeps: Keeps, counts: readonly number[]): number {
  if (keeps === 'most') return Math.max(...counts)
  if (keeps === 'least') return Math.min(...counts)
  return counts.reduce((sum, count) => sum + count, 0)
}
