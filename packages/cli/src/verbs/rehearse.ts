import { writeFileSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { extname } from 'node:path'
import { Command } from 'commander'
import { compareRehearsals, joinRehearsals, type Rehearsal } from 'zinc-referee/testing'
import { CommandError, exit } from '../errors.ts'
import { type LoadedMode, loadMode } from '../modes/load-mode.ts'
import { named } from '../modes/open-record.ts'
import { runInParallel } from '../parallel/workers.ts'
import { faultLines } from '../print/fault-lines.ts'
import { print, printJson } from '../print/output.ts'
import { csvOf, type Rehearsed } from '../rehearsal/csv.ts'
import { keepFindings } from '../rehearsal/keep-findings.ts'
import { type RehearseOptions, runPart } from '../rehearsal/rehearse-part.ts'
import { comparedText, findingsText, rehearsalText, variedText } from '../rehearsal/report.ts'
import { settingsWith, type Varied, varied } from '../rehearsal/varied.ts'
import { exitWith, shared, whole } from './options.ts'

/** zinc-referee rehearse */
export const verb: Command = new Command('rehearse')
  .argument('[mode]', 'an example', 'reed-regatta')
  .addOption(shared.rulebook)
  .option('--matches <number>', 'play so many matches', whole, 200)
  .option('--seconds <number>', 'begin no match after this many seconds', whole)
  .option('--workers <number>', 'number of workers (default: one per core)', whole)
  .option('--random', "everyone plays at random, not by the mode's own bots")
  .option('--think <number>', 'everyone tries out so many matches before each move', whole)
  .option('--compare <file>', 'an older version of the rulebook: say what changed since')
  .option('--vary <setting>', 'rehearse with each value, such as rounds.length=60000,120000', varied)
  .option('--csv <file>', 'write shares, endings and actions as CSV, too')
  .option('--plot <file>', 'draw who wins, as .svg or .png')
  .option('--found <folder>', 'where records of what is wrong go', 'found')
  .addOption(shared.settings)
  .addOption(shared.with)
  .addOption(shared.seats)
  .addOption(shared.seed)
  .addOption(shared.json)
  .action(exitWith(rehearse))

/** Options of the verb, besides those of what is rehearsed. */
interface Options extends RehearseOptions {
  readonly matches: number
  readonly workers?: number
  readonly seconds?: number
  readonly compare?: string
  readonly vary?: Varied
  readonly csv?: string
  readonly plot?: string
  readonly found: string
  readonly json?: boolean
}

/** Plays matches of a mode by bots, and says how they went. */
export async function rehearse(name: string | undefined, options: Options): Promise<number> {
  refuseOdd(options)
  const mode = await loadMode(name, options.rulebook)
  const { vary, compare, settings = {} } = options
  const all: Rehearsed[] = []
  for (const value of vary?.values ?? [undefined])
    all.push({
      value: vary === undefined ? undefined : textOf(value),
      went: await played(name, {
        ...options,
        settings: vary === undefined ? settings : settingsWith(settings, vary, value),
      }),
    })
  const before =
    compare === undefined ? undefined : await played(undefined, { ...options, rulebook: compare })
  await writeFiles(all, mode, options)
  return show(all, before, mode, options)
}

function refuseOdd({ matches, workers, plot, vary, compare, think, random }: Options): void {
  if (matches === 0) throw new CommandError('Play at least one match: --matches 200.')
  if (workers === 0)
    throw new CommandError('There must be at least one worker. Leave --workers out for one per core.')
  if (plot !== undefined && !['.svg', '.png'].includes(extname(plot)))
    throw new CommandError(`--plot draws .svg or .png, and '${plot}' is neither.`)
  if (vary !== undefined && compare !== undefined)
    throw new CommandError('Rehearse either with --vary or with --compare, one after the other.')
  if (think === 0) throw new CommandError('Try out at least one match: --think 200.')
  if (think !== undefined && random)
    throw new CommandError('Who plays at random does not think. Leave out --random or --think.')
}

/** Shares the matches out to the workers, in ranges. They come together in their order, however many workers there are. */
async function played(name: string | undefined, given: Options): Promise<Rehearsal> {
  const { matches, workers, seconds, rulebook, random, think, settings, seats, seed } = given
  const options: RehearseOptions = { rulebook, random, think, settings, with: given.with, seats, seed }
  const of = Math.min(matches, workers ?? availableParallelism())
  const latest = seconds === undefined ? {} : { latest: Date.now() + seconds * 1000 }
  const tasks = Array.from({ length: of }, (_, part) => ({
    name,
    options,
    from: Math.floor((part * matches) / of),
    to: Math.floor(((part + 1) * matches) / of),
    ...latest,
  }))
  const parts = await runInParallel(tasks, {
    module: new URL('../rehearsal/rehearse-part.js', import.meta.url),
    runPart,
    doing: (done, all) => `rehearsing   ${done} of ${all} matches`,
  })
  return joinRehearsals((await loadMode(name, rulebook)).rulebook.name, parts)
}

async function writeFiles(all: readonly Rehearsed[], { title }: LoadedMode, options: Options): Promise<void> {
  const { csv, plot, vary } = options
  if (csv !== undefined) writeFileSync(csv, csvOf(all))
  if (plot === undefined) return
  // Loaded where it is asked for: it takes a while.
  const { plotSvg, pngOf } = await import('../rehearsal/plot.ts')
  const svg = await plotSvg(all, title, vary?.name)
  writeFileSync(plot, extname(plot) === '.png' ? pngOf(svg) : svg)
}

function show(
  all: readonly Rehearsed[],
  before: Rehearsal | undefined,
  { rulebook, title }: LoadedMode,
  options: Options,
): number {
  const wrong = all.flatMap(({ went }) => went.findings)
  const findings = keepFindings(rulebook, wrong, options.found)
  const code = wrong.length === 0 ? exit.done : exit.finding
  const [first] = all
  if (first === undefined) return code
  const now = { ...first.went, findings }
  if (options.vary !== undefined)
    if (options.json)
      printJson({
        setting: options.vary.name,
        values: all.map(({ value, went }) => ({ value, ...went, findings: went.findings.length })),
        findings,
      })
    else
      print(...variedText(all, title, options.vary.name), ...findingsText(findings, named(options.rulebook)))
  else if (before === undefined)
    if (options.json) printJson(now)
    else
      print(
        ...rehearsalText(first.went, title),
        ...faultLines(first.went.faults),
        ...findingsText(findings, named(options.rulebook)),
      )
  else {
    const compared = compareRehearsals(before, first.went)
    if (options.json) printJson({ before: { ...before, findings: before.findings.length }, now, compared })
    else print(...comparedText(compared, title, options))
  }
  return code
}

const textOf = (value: unknown): string => (typeof value === 'string' ? value : JSON.stringify(value))
