import { nearest } from 'zinc-referee/testing'
import { CommandError } from '../errors.ts'

/** Returns the error for an unknown name: "Unknown seat 'oter'. Did you mean 'otter'? There are: …" */
export function noSuch(what: string, name: string, known: readonly string[]): CommandError {
  const near = nearest(name, known)
  const guess = near === undefined ? '' : ` Did you mean '${near}'?`
  return new CommandError(`Unknown ${what} '${name}'.${guess} There are: ${known.join(', ') || 'none'}.`)
}
