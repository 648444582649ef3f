/** Who hits whom, when: some refused, some deadly, ids that vary. The same list for every variant. */
export interface Hit {
  readonly at: number
  readonly target: string
  readonly by: string
  readonly amount: number
}
export const SEATS = Array.from({ length: 8 }, (_, n) => `raft-${n + 1}`)

/** A multiplicative congruential sequence: even enough for a workload, and the same on every machine. */
export function hits(count: number): Hit[] {
  let state = 7
  const next = (most: number): number => {
    state = (state * 48_271) % 2_147_483_647
    return state % most
  }
  return Array.from({ length: count }, (_, n) => {
    const target = SEATS[next(SEATS.length)] ?? ''
    const by = SEATS[next(SEATS.length)] ?? ''
    return { at: n * 37, target, by, amount: 10 + next(30) }
  })
}
