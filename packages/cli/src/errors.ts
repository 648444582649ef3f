/** Exit codes: done; a finding, such as hashes that differ; wrong use or bad input; an error of ours. */
export const exit = { done: 0, finding: 1, badInput: 2, fault: 3 } as const

/** Wrong use or bad input, with the fix. */
export class CommandError extends Error {
  override readonly name = 'CommandError'
}
