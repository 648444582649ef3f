import { writeFileSync } from 'node:fs'
import { Command } from 'commander'
import { checkRulebook } from 'zinc-referee/testing'
import { CommandError, exit } from '../errors.ts'
import { loadMode } from '../modes/load-mode.ts'
import { OwnSources } from '../modes/own-sources.ts'
import { seatsOf } from '../play/play-demo.ts'
import { watchClocks } from '../play/watch-clocks.ts'
import { columns, print, printJson, strong } from '../print/output.ts'
import { placeText } from '../print/place-text.ts'
import { type Located, sarifOf } from '../print/sarif.ts'
import { placesIn } from '../print/stack-places.ts'
import { exitWith, shared, whole } from './options.ts'

/** zinc-referee check */
export const verb: Command = new Command('check')
  .requiredOption('--rulebook <file>', 'a .ts or .js file that exports a rulebook')
  .option('--matches <number>', 'rehearse so many matches', whole, 20)
  .addOption(shared.seats)
  .addOption(shared.seed)
  .option('--sarif <file>', 'write SARIF 2.1.0, too')
  .addOption(shared.json)
  .action(exitWith(check))

interface CheckOptions {
  readonly rulebook: string
  readonly matches: number
  readonly seats?: number
  readonly seed?: string
  readonly sarif?: string
  readonly json?: boolean
}

/** What each kind of finding means. */
const KINDS: { readonly [kind: string]: string } = {
  fault: 'Code of the mode has thrown',
  'own-clock': 'Code of the mode reads a clock or chance of its own: a replay would differ',
  'never-accepted': 'An action or fact that no match took',
  'never-raised': 'An event that no match raised',
  'never-started': 'A timer that no match started',
  unused: 'A declared name that nothing uses',
  'never-read': 'A cell that nobody sees and nothing read',
  'never-amends': 'An amendment that changed nothing',
  'idle-timer': 'A timer that looks often and does little',
  clash: 'Amendments that redirect to different seats',
  slow: 'An input that takes long',
  'no-way-out': 'A match in which nothing can happen any more',
  'never-over': 'No match came to its end',
}

/** Rehearses matches of a rulebook, and says what never happened in any of them and what went wrong. */
export async function check(options: CheckOptions): Promise<number> {
  if (options.matches === 0) throw new CommandError('Rehearse at least one match: --matches 20.')
  const mode = await loadMode(undefined, options.rulebook)
  const { crowd } = mode.demo
  const sources = new OwnSources(options.rulebook)
  const now = performance.now.bind(performance) // not the one that is watched: each look at it takes a stack apart
  const clocks = watchClocks(sources)
  const found = checkRulebook(mode.rulebook, {
    matches: options.matches,
    seats: seatsOf(mode, options.seats).map(({ id }) => id),
    with: mode.rulebook.optional,
    now,
    ...(options.seed !== undefined && { seed: options.seed }),
    ...(crowd !== undefined && { crowd: (seed) => crowd(seed) }),
  })
  const all: readonly Located[] = [
    ...clocks.end(),
    ...found.flatMap(({ fault, ...finding }): Located[] => {
      const [rule = '', ...more] = finding.name.split('.')
      const place =
        fault === undefined
          ? (sources.placeOf(more.join('.')) ?? sources.placeOf(more.at(-1) ?? rule))
          : placesIn(fault.stack).find(({ path }) => sources.has(path))
      const isOwn = fault !== undefined || finding.name === mode.rulebook.name || sources.makes(rule)
      // A rule that the file makes by a factory brings events and settings of its own, which are not in the file.
      const isDeclared = place !== undefined || !['never-raised', 'never-read'].includes(finding.kind)
      return isOwn && isDeclared ? [{ ...finding, place }] : []
    }),
  ]
  if (options.sarif !== undefined)
    writeFileSync(options.sarif, `${JSON.stringify(sarifOf(all, KINDS), null, 2)}\n`)
  if (options.json) printJson({ rulebook: mode.rulebook.name, matches: options.matches, findings: all })
  else
    print(
      `${strong(mode.rulebook.name)}   ${options.matches} ${options.matches === 1 ? 'match' : 'matches'} rehearsed`,
      all.length === 0
        ? 'nothing found'
        : columns(
            ['where', 'what', 'why', 'fix'],
            all.map(({ kind, name, says, fix, place }) => [placeText(place), name, `${kind}: ${says}`, fix]),
          ),
    )
  return all.length === 0 ? exit.done : exit.finding
}
