import { modesByName } from '@zinc-referee/examples/by-name'
import { Command } from 'commander'
import { formatElapsed } from 'zinc-referee'
import { diffRecord, type FirstDifference, type RecordDiff } from 'zinc-referee/testing'
import { CommandError, exit } from '../errors.ts'
import { loadMode } from '../modes/load-mode.ts'
import { openLongRecord } from '../modes/open-record.ts'
import { inputText, rulingText, short } from '../print/input-text.ts'
import { columns, pairs, print, printJson, strong } from '../print/output.ts'
import { exitWith, shared } from './options.ts'

/** zinc-referee diff */
export const verb: Command = new Command('diff')
  .argument('<record>')
  .requiredOption('--rulebook <file>', 'the newer version: a .ts or .js file that exports a rulebook')
  .option('--before <file>', "the version that it was made with (default: the example of the record's name)")
  .addOption(shared.json)
  .action(exitWith(diff))

/** So many rulings are printed. */
const MOST = 12

/** Plays a record under two versions of a rulebook, and says where they part. */
export async function diff(
  file: string,
  options: { readonly rulebook: string; readonly before?: string; readonly json?: boolean },
): Promise<number> {
  const { content } = await openLongRecord(file, options.rulebook)
  const { rulebook: name, seed } = content.header
  if (options.before === undefined && !Object.hasOwn(modesByName, name))
    throw new CommandError(
      `The record is of '${name}', which is not an example. Name the version that it was made with: --before FILE.`,
    )
  const [before, now] = [await loadMode(name, options.before), await loadMode(name, options.rulebook)]
  for (const { rulebook, named } of [before, now])
    if (rulebook.name !== name)
      throw new CommandError(
        `The record is of '${name}', and ${named} is of '${rulebook.name}'. Name a version of that.`,
      )
  const found = diffRecord(before.rulebook, now.rulebook, content)
  const isSame = found.first === undefined && found.rulings.length === 0 && found.verdicts === undefined
  if (options.json) printJson({ record: file, rulebook: name, seed, ...found })
  else
    print(
      `${strong(name)}   seed ${seed}   ${found.inputs} inputs`,
      pairs([
        ['declared', found.declared === '' ? 'the same' : found.declared],
        ['played', isSame ? 'the same: states, rulings and verdict' : 'apart'],
      ]),
      ...(found.first === undefined ? [] : [firstText(found.first)]),
      ...(found.rulings.length === 0 ? [] : [rulingsText(found)]),
      pairs([
        ...(found.verdicts === undefined
          ? []
          : ([
              ['verdict', verdictText(found.verdicts.before)],
              ['now', verdictText(found.verdicts.now)],
            ] as const)),
        ['next', nextText(file, found, options.before)],
      ]),
    )
  return isSame ? exit.done : exit.finding
}

function firstText({ line, at, input, cells }: FirstDifference): string {
  const after = input === undefined ? 'as time passes' : `after ${inputText(input)}`
  return [
    `${strong('first')}      line ${line}   ${formatElapsed(at)}   ${after}`,
    columns(
      ['cell', 'before', 'now'],
      cells.map(({ rule, part, row, cell, before = '(none)', now = '(none)' }) => [
        [rule, part, row, cell].filter((step) => step !== undefined).join('.'),
        short(before),
        short(now),
      ]),
    ),
  ].join('\n')
}

function rulingsText({ rulings, rulingsInAll = rulings.length }: RecordDiff): string {
  const more = rulingsInAll > MOST ? `\n(and ${rulingsInAll - MOST} more)` : ''
  return `${columns(
    ['line', 'time', 'ruling on', 'before', 'now'],
    rulings
      .slice(0, MOST)
      .map(({ line, at, input, before, now }) => [
        String(line),
        formatElapsed(at),
        inputText(input),
        rulingText(before),
        rulingText(now),
      ]),
  )}${more}`
}

function verdictText(text: string): string {
  const { kind, winners, reason, at } = Object(JSON.parse(text)) as {
    readonly kind?: string | null
    readonly winners: readonly string[]
    readonly reason: string
    readonly at: number
  }
  if (kind == null) return 'none when the record ends'
  return [kind, winners.join(', '), reason, formatElapsed(at)].filter((word) => word !== '').join('   ')
}

/** Where the first version was when they parted. */
function nextText(file: string, { first }: RecordDiff, before: string | undefined): string {
  const book = before === undefined ? '' : ` --rulebook ${before}`
  if (first === undefined) return `npx zinc-referee replay ${file}${book}`
  const seat = first.input?.seat ?? 'server'
  return `npx zinc-referee view ${file} --seat ${seat} --at ${formatElapsed(first.at)}${book}`
}
