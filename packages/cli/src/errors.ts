import { nearest } from 'zinc-referee/testing'

/** Exit codes: done, a finding (hashes differ), wrong use or bad input, a fault of ours. */
export const exit = { done: 0, finding: 1, badInput: 2, fault: 3 } as const

/** Wrong use or bad input: what was wrong, and the fix. */
export class CommandError extends Error {
  override readonly name = 'CommandError'
}

/** "Unknown seat 'oter'. Did you mean 'otter'? There are: …" */
export function noSuch(what: string, name: string, known: readonly string[]): CommandError {
  const near = nearest(name, known)
  return new CommandError(
    `Unknown ${what} '${name}'${near === undefined ? '' : `. Did you mean '${near}'?`}${near === undefined ? '. ' : ' '}There are: ${known.join(', ') || 'none'}.`,
  )
}
