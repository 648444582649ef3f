import { InvalidArgumentError, Option } from 'commander'
import { namesIn } from '../modes/expansions.ts'

/** Options that several verbs share. */
export const shared: Readonly<Record<'rulebook' | 'with' | 'seed' | 'seats' | 'json', Option>> = {
  rulebook: new Option(
    '--rulebook <file>',
    "a .ts or .js file that exports a rulebook, instead of an example's name",
  ),
  with: new Option(
    '--with <rules>',
    "optional rules of the mode, by name with commas between, or 'all'",
  ).argParser(namesIn),
  seed: new Option(
    '--seed <text>',
    "seed of the match; another seed gives another match (default: the mode's own)",
  ),
  seats: new Option('--seats <number>', "number of seats (default: the mode's own)").argParser(whole),
  json: new Option('--json', 'data instead of text'),
}

/** Returns the whole number that a text is. @throws InvalidArgumentError for any other text */
export function whole(text: string): number {
  if (!/^\d+$/.test(text)) throw new InvalidArgumentError('It must be a whole number.')
  return Number(text)
}

/** Returns an action that ends the process with the exit code of a verb. */
export const exitWith =
  <Given extends readonly unknown[]>(run: (...given: Given) => number | Promise<number>) =>
  async (...given: Given): Promise<void> => {
    process.exitCode = await run(...given)
  }
