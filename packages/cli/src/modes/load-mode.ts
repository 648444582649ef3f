import { existsSync } from 'node:fs'
import { basename, resolve } from 'node:path'
import { stripVTControlCharacters } from 'node:util'
import { modesByName } from '@zinc-referee/examples/by-name'
import { type AnyRulebook, isRefereeError, type Snapshot } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { CommandError } from '../errors.ts'
import { noSuch } from './no-such.ts'

/** A rulebook to run, and its demo. */
export interface LoadedMode {
  readonly title: string
  /** Its name on the command line, for hints about the next command. */
  readonly named: string
  readonly rulebook: AnyRulebook
  readonly demo: Demo
  /** Makes a snapshot of an older version of the rulebook one of this, if its file exports `migrate`. */
  readonly migrate?: (old: Snapshot) => Snapshot
}

/** Returns the mode in a rulebook's file, or the example with this name. */
export async function loadMode(name: string | undefined, file: string | undefined): Promise<LoadedMode> {
  if (file !== undefined) return loadFile(file)
  const wanted = name ?? 'reed-regatta'
  const load = Object.hasOwn(modesByName, wanted) ? modesByName[wanted] : undefined
  if (load === undefined) throw noSuch('example', wanted, Object.keys(modesByName))
  return { ...(await load()), named: wanted }
}

async function loadFile(file: string): Promise<LoadedMode> {
  const path = resolve(file)
  if (!existsSync(path))
    throw new CommandError(`There is no file '${file}'. Name a .ts or .js file that exports a rulebook.`)
  const module = await importFile(file, path)
  const books = Object.values(module).filter(isRulebook)
  const rulebook = isRulebook(module['default']) ? module['default'] : books[0]
  if (rulebook === undefined)
    throw new CommandError(
      `'${file}' exports no rulebook. Export what defineRulebook returns, by name or as the default.`,
    )
  const demo = (module['demo'] ?? {}) as Demo
  const { migrate } = module as Pick<LoadedMode, 'migrate'>
  return { title: rulebook.name, named: `--rulebook ${file}`, rulebook, demo, ...(migrate && { migrate }) }
}

async function importFile(file: string, path: string): Promise<{ readonly [name: string]: unknown }> {
  try {
    const { runnerImport } = await import('vite') // it takes a third of a second, and examples need none
    process.setSourceMapsEnabled(true) // so that a fault is shown where it is in the file
    const { module } = await runnerImport<{ readonly [name: string]: unknown }>(path, {
      logLevel: 'silent',
      configFile: false,
    })
    process.setSourceMapsEnabled(true) // loading has turned it off
    return module
  } catch (error) {
    if (isRefereeError(error)) throw error
    throw new CommandError(
      `'${basename(file)}' cannot be loaded: ${stripVTControlCharacters(error instanceof Error ? error.message : String(error))}`,
      { cause: error },
    )
  }
}

function isRulebook(value: unknown): value is AnyRulebook {
  return (
    typeof value === 'object' &&
    value !== null &&
    'plan' in value &&
    'name' in value &&
    typeof value.name === 'string'
  )
}
