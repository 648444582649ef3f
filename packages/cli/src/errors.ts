/** Exit codes: done, a finding (hashes differ), wrong use or bad input, a fault of ours. */
export const exit = { done: 0, finding: 1, badInput: 2, fault: 3 } as const

/** Wrong use or bad input: what was wrong, and the fix. */
export class CommandError extends Error {
  override readonly name = 'CommandError'
}
