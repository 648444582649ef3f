import { existsSync, readFileSync, statSync, watch, writeFileSync } from 'node:fs'
import { Command } from 'commander'
import { parse, stringify } from 'yaml'
import { formatElapsed, isRefereeError } from 'zinc-referee'
import { cutScenario, readScenario, runScenario, type Scenario, scenarioSchema } from 'zinc-referee/testing'
import { CommandError, exit } from '../errors.ts'
import { loadMode } from '../modes/load-mode.ts'
import { openRecord } from '../modes/open-record.ts'
import { faultLines } from '../print/fault-lines.ts'
import { dim, pairs, print, printJson, strong } from '../print/output.ts'
import { isMet, junitText, type Played, tapText } from '../print/scenario-reports.ts'
import { exitWith, shared, whole } from './options.ts'
import { parseTime } from './parse-time.ts'

/** zinc-referee scenario */
export const verb: Command = new Command('scenario')
  .argument('[files...]', 'scenarios, as YAML or JSON')
  .addOption(shared.rulebook)
  .option('--watch', 'play them again whenever a file changes')
  .option('--tap', 'print TAP 14 instead of text')
  .option('--junit <file>', 'write JUnit XML, too')
  .option('--cut <record>', 'print a scenario of a record, as YAML, up to a moment')
  .option('--at <time>', 'with --cut: up to this match time (default: the end)')
  .option('--line <number>', 'with --cut: up to this line of the record', whole)
  .option('--schema', 'print the JSON Schema of scenarios, for editors')
  .addOption(shared.json)
  .action(exitWith(scenario))

interface ScenarioOptions {
  readonly rulebook?: string
  readonly watch?: boolean
  readonly tap?: boolean
  readonly junit?: string
  readonly cut?: string
  readonly at?: string
  readonly line?: number
  readonly schema?: boolean
  readonly json?: boolean
}

/** A scenario is small. A file that is not is none. */
const MOST_BYTES = 1024 * 1024

/** Plays scenarios in virtual time, and says what did not come as they expect. */
export async function scenario(files: readonly string[], options: ScenarioOptions): Promise<number> {
  if (options.schema) {
    printJson(scenarioSchema())
    return exit.done
  }
  if (options.cut !== undefined) return cut(options.cut, options)
  if (files.length === 0) throw new CommandError('Name at least one scenario: a file of YAML or JSON.')
  if (options.tap && options.json) throw new CommandError('Ask for one of --tap and --json.')
  if (!options.watch) return playAll(files, options)
  for (;;) {
    await playAll(files, options).catch((error: unknown) => {
      if (!(error instanceof CommandError) && !isRefereeError(error)) throw error
      print(error instanceof CommandError ? error.message : error.toString()) // it may be fixed with the next change
    })
    print(dim('waiting for a change; Ctrl-C ends it'))
    await nextChange(options.rulebook === undefined ? files : [...files, options.rulebook])
  }
}

/** Prints a scenario of a record. */
async function cut(record: string, { rulebook, at, line, json }: ScenarioOptions): Promise<number> {
  const { content, book } = await openRecord(record, rulebook)
  const made = cutScenario(book, content, {
    ...(at !== undefined && { at: parseTime(at) }),
    ...(line !== undefined && { line }),
  })
  if (json) printJson(made)
  else process.stdout.write(stringify(made, { lineWidth: 120 }))
  return exit.done
}

async function playAll(files: readonly string[], options: ScenarioOptions): Promise<number> {
  const all: Played[] = []
  for (const file of files) all.push({ file, result: await play(file, options.rulebook) })
  if (options.junit !== undefined) writeFileSync(options.junit, junitText(all))
  if (options.json) printJson(all.map(({ file, result }) => ({ file, ...result })))
  else if (options.tap) print(tapText(all))
  else print(...all.map(played), summary(all))
  return all.every(({ result }) => isMet(result)) ? exit.done : exit.finding
}

async function play(file: string, rulebook: string | undefined): Promise<Played['result']> {
  const read = dataOf(file)
  const { mode } = read
  if (mode === undefined && rulebook === undefined)
    throw new CommandError(`'${file}' does not name its mode. Add 'mode', or give its file with --rulebook.`)
  const loaded = await loadMode(mode, rulebook)
  if (mode !== undefined && mode !== loaded.rulebook.name)
    throw new CommandError(
      `'${file}' is of the mode '${mode}', and ${loaded.named} is of '${loaded.rulebook.name}'.`,
    )
  return runScenario(loaded.rulebook, read)
}

function dataOf(file: string): Scenario {
  if (!existsSync(file) || !statSync(file).isFile()) throw new CommandError(`There is no file '${file}'.`)
  if (statSync(file).size > MOST_BYTES)
    throw new CommandError(`'${file}' is larger than a scenario can be. Name a file of at most 1 MiB.`)
  let data: unknown
  try {
    data = parse(readFileSync(file, 'utf8'))
  } catch (error) {
    throw new CommandError(
      `'${file}' is neither YAML nor JSON: ${error instanceof Error ? error.message.trim() : error}`,
    )
  }
  try {
    return readScenario(data)
  } catch (error) {
    throw isRefereeError(error) ? new CommandError(`'${file}': ${error.message}`) : error
  }
}

const played = ({ file, result }: Played): string =>
  [
    `${isMet(result) ? 'as expected ' : strong('not expected')}   ${result.scenario}   ${dim(`${file}, ${result.compared} compared`)}`,
    ...result.unmet.map(({ step, at, what, expected, found }) =>
      [
        `  step ${step}   ${formatElapsed(at)}   ${what}`,
        pairs([
          ['    expected', expected],
          ['    found', found],
        ]),
      ].join('\n'),
    ),
    ...faultLines(result.faults),
  ].join('\n')

function summary(all: readonly Played[]): string {
  const apart = all.filter(({ result }) => !isMet(result)).length
  return `${all.length} ${all.length === 1 ? 'scenario' : 'scenarios'}, ${apart === 0 ? 'all as expected' : `${apart} not as expected`}`
}

/** Resolves when one of these files has changed, a moment later: editors write in several steps. */
function nextChange(files: readonly string[]): Promise<void> {
  return new Promise((changed) => {
    const all = files.map((file) =>
      watch(file, () => {
        for (const each of all) each.close()
        setTimeout(changed, 100)
      }),
    )
  })
}
