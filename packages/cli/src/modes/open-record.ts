import { existsSync, readFileSync, statSync } from 'node:fs'
import { modes } from '@zinc-referee/examples'
import { type AnyRulebook, type RecordContent, readRecord } from 'zinc-referee'
import { CommandError } from '../errors.ts'
import { type LoadedMode, loadMode } from './load-mode.ts'

/** How a rulebook's file was named, to be named so again in what to do next. */
export const named = (rulebook: string | undefined): string =>
  rulebook === undefined ? '' : ` --rulebook ${rulebook}`

/** A record's content and the mode it was made with: the user's file, or the example of the name in its header. */
export async function openRecord(
  file: string,
  rulebook: string | undefined,
): Promise<{ readonly content: RecordContent; readonly book: AnyRulebook; readonly mode: LoadedMode }> {
  if (!existsSync(file))
    throw new CommandError(
      `There is no file '${file}'. \`npx zinc-referee demo\` makes a record and says where it is.`,
    )
  if (!statSync(file).isFile()) throw new CommandError(`'${file}' is a folder. Name a record inside it.`)
  const content = readRecord(readFileSync(file, 'utf8'))
  const name = content.header.rulebook
  if (rulebook === undefined && !Object.hasOwn(modes, name))
    throw new CommandError(
      `The record is of '${name}', which is not an example. Name its file with --rulebook FILE.`,
    )
  const mode = await loadMode(name, rulebook)
  return { content, book: mode.rulebook, mode }
}
