import { existsSync, readFileSync, statSync } from 'node:fs'
import { gunzipSync } from 'node:zlib'
import { modesByName } from '@zinc-referee/examples/by-name'
import { type AnyRulebook, type RecordContent, type RecordStream, readRecord } from 'zinc-referee'
import { CommandError } from '../errors.ts'
import { type LoadedMode, loadMode } from './load-mode.ts'
import { streamRecord } from './stream-record.ts'

/** Returns how a rulebook's file was named on the command line, for hints about the next command. */
export const named = (rulebook: string | undefined): string =>
  rulebook === undefined ? '' : ` --rulebook ${rulebook}`

/** A record, and the mode that it was made with. */
interface Opened<Content> {
  readonly content: Content
  readonly book: AnyRulebook
  readonly mode: LoadedMode
}

/** Returns a record and the mode it was made with: the given file, or the example named in its header. */
export const openRecord = (file: string, rulebook: string | undefined): Promise<Opened<RecordContent>> =>
  opened(file, rulebook, wholeRecord)

/** The same for a record of any length, whose lines are read while it is played. */
export const openLongRecord = (file: string, rulebook: string | undefined): Promise<Opened<RecordStream>> =>
  opened(file, rulebook, (path) => (path.endsWith('.gz') ? wholeRecord(path) : streamRecord(path)))

/** More than this does not fit into one text. */
const LONGEST = 500_000_000

function wholeRecord(file: string): RecordContent {
  const bytes = file.endsWith('.gz') ? gunzipSync(readFileSync(file)) : undefined
  if ((bytes?.length ?? statSync(file).size) > LONGEST)
    throw new CommandError(
      `'${file}' is too long for this command. replay, view, sheet and diff take records of any length.`,
    )
  return readRecord(bytes === undefined ? readFileSync(file, 'utf8') : bytes.toString())
}

async function opened<Content extends RecordStream>(
  file: string,
  rulebook: string | undefined,
  read: (path: string) => Content,
): Promise<Opened<Content>> {
  if (!existsSync(file))
    throw new CommandError(
      `There is no file '${file}'. \`npx zinc-referee demo\` makes a record and says where it is.`,
    )
  if (!statSync(file).isFile()) throw new CommandError(`'${file}' is a folder. Name a record inside it.`)
  const content = read(file)
  const name = content.header.rulebook
  if (rulebook === undefined && !Object.hasOwn(modesByName, name))
    throw new CommandError(
      `The record is of '${name}', which is not an example. Name its file with --rulebook FILE.`,
    )
  const mode = await loadMode(name, rulebook)
  return { content, book: mode.rulebook, mode }
}
