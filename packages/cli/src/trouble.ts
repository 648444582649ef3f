import { nearest } from 'zinc-referee/testing'

/** Exit codes: done, a finding (hashes differ), wrong use or bad input, a fault of ours. */
export const exit = { done: 0, finding: 1, badInput: 2, fault: 3 } as const

/** Wrong use or bad input: what was wrong, and the mend. */
export class Trouble extends Error {
  override readonly name = 'Trouble'
}

/** "there is no seat 'oter': did you mean 'otter'? The seats are …" */
export function noSuch(what: string, name: string, known: readonly string[]): Trouble {
  const near = nearest(name, known)
  return new Trouble(
    `There is no ${what} '${name}'${near === undefined ? '' : `. Did you mean '${near}'?`}${near === undefined ? '. ' : ' '}There are: ${known.join(', ') || 'none'}.`,
  )
}
