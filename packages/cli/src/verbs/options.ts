import { InvalidArgumentError, Option } from 'commander'
import { CommandError } from '../errors.ts'
import { namesIn } from '../modes/expansions.ts'

/** Options that several verbs share. */
export const shared: Readonly<Record<'rulebook' | 'with' | 'settings' | 'seed' | 'seats' | 'json', Option>> =
  {
    rulebook: new Option(
      '--rulebook <file>',
      "a .ts or .js file that exports a rulebook, instead of an example's name",
    ),
    with: new Option(
      '--with <rules>',
      "optional rules of the mode, by name with commas between, or 'all'",
    ).argParser(namesIn),
    settings: new Option('--settings <json>', "settings by rule; they override the mode's").argParser(
      settingsFrom,
    ),
    seed: new Option(
      '--seed <text>',
      "seed of the match; another seed gives another match (default: the mode's own)",
    ),
    seats: new Option('--seats <number>', "number of seats (default: the mode's own)").argParser(whole),
    json: new Option('--json', 'data instead of text'),
  }

/** Returns the settings that a text is, as JSON by rule. @throws CommandError for any other text */
function settingsFrom(text: string): object {
  try {
    const settings: unknown = JSON.parse(text)
    if (typeof settings === 'object' && settings !== null && !Array.isArray(settings)) return settings
  } catch {
    // said below
  }
  throw new CommandError(
    `--settings takes JSON by rule, such as '{"rounds":{"length":60000}}', and '${text}' is not that.`,
  )
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
