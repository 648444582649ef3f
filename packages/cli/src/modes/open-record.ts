import { existsSync, readFileSync, statSync } from 'node:fs'
import { gunzipSync } from 'node:zlib'
import { modes } from '@zinc-referee/examples'
import { type AnyRulebook, type RecordContent, readRecord } from 'zinc-referee'
import { CommandError } from '../errors.ts'
import { type LoadedMode, loadMode } from './load-mode.ts'

/** Returns how a rulebook's file was named on the command line, for hints about the next command. */
export const named = (rulebook: string | undefined): string =>
  rulebook === undefined ? '' : ` --rulebook ${rulebook}`

/** Returns a record's text and the mode it was made with: the given file, or the example named in its header. */
export async function openRecord(
  file: string,
  rulebook: string | undefined,
): Promise<{ readonly content: RecordContent; readonly book: AnyRulebook; readonly mode: LoadedMode }> {
  if (!existsSync(file))
    throw new CommandError(
      `There is no file '${file}'. \`npx zinc-referee demo\` makes a record and says where it is.`,
    )
  if (!statSync(file).isFile()) throw new CommandError(`'${file}' is a folder. Name a record inside it.`)
  const content = readRecord(
    file.endsWith('.gz') ? gunzipSync(readFileSync(file)).toString() : readFileSync(file, 'utf8'),
  )
  const name = content.header.rulebook
  if (rulebook === undefined && !Object.hasOwn(modes, name))
    throw new CommandError(
      `The record is of '${name}', which is not an example. Name its file with --rulebook FILE.`,
    )
  const mode = await loadMode(name, rulebook)
  return { content, book: mode.rulebook, mode }
}
