import { accessSync, appendFileSync, constants, existsSync, mkdirSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import { Command } from 'commander'
import { formatElapsed, formatRemaining, replayRecord } from 'zinc-referee'
import type { ScoreSheet } from 'zinc-referee/replica'
import { CommandError, exit } from '../errors.ts'
import { expansionsOf } from '../modes/expansions.ts'
import { type LoadedMode, loadMode } from '../modes/load-mode.ts'
import type { Moment } from '../play/moment-watch.ts'
import { type FeedLine, type Played, playDemo } from '../play/play-demo.ts'
import { faultLines } from '../print/fault-lines.ts'
import { columns, dim, hidden, pairs, plain, print, printJson, strong } from '../print/output.ts'
import { sheetLines } from '../print/sheet-lines.ts'
import { exitWith, shared } from './options.ts'

/** zinc-referee demo */
export const verb: Command = new Command('demo')
  .argument('[mode]', 'an example', 'reed-regatta')
  .addOption(shared.rulebook)
  .addOption(shared.seed)
  .addOption(shared.seats)
  .addOption(shared.with)
  .option('--record <file>', 'file for the record (default: in records/)')
  .option('--all', 'print the whole timeline')
  .addOption(shared.json)
  .action(exitWith(demo))

export interface DemoOptions {
  readonly rulebook?: string
  readonly seed?: string
  readonly seats?: number
  readonly with?: readonly string[]
  readonly record?: string
  readonly all?: boolean
  readonly json?: boolean
}

const FIRST_LINES = 12
const LAST_LINES = 6
/** The moment that is shown if none stands out, in ms. */
const SOME_MOMENT = 57_000

/** Plays a whole match and shows it. */
export async function demo(name: string | undefined, options: DemoOptions): Promise<number> {
  const mode = await loadMode(name, options.rulebook)
  const seed = options.seed ?? mode.demo.seed ?? 'fair-1'
  const file = options.record ?? `records/${mode.rulebook.name}-${seed.replaceAll(/[^\w-]+/g, '_')}.jsonl`
  assertRoomFor(file)
  const played = playDemo(mode, seed, options.seats, expansionsOf(mode.rulebook, options.with))
  writeFileSync(file, played.record)
  const { differs, inputs } = replayRecord(mode.rulebook, played.record)
  if (options.json)
    printJson({ ...played, inputs, record: file, replay: differs === undefined ? 'same' : differs })
  else show(mode, { ...played, inputs }, file, differs === undefined, options)
  return differs === undefined && played.faults.length === 0 ? exit.done : exit.finding
}

/** Checks that the record can be written before the match is played. */
function assertRoomFor(file: string): void {
  try {
    mkdirSync(dirname(file), { recursive: true })
    if (existsSync(file)) appendFileSync(file, '')
    else accessSync(dirname(file), constants.W_OK)
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error)
    throw new CommandError(`The record cannot be written: ${why}. Name another place with --record FILE.`, {
      cause: error,
    })
  }
}

function show(
  mode: LoadedMode,
  played: Played & { readonly inputs: number },
  file: string,
  same: boolean,
  { all = false, with: taken = [] }: DemoOptions,
): void {
  const { seats, length, feed, board, sheet, moment, verdict, faults } = played
  const ownFile = mode.named.startsWith('--') ? ` ${mode.named}` : ''
  const when = formatElapsed(moment?.at ?? Math.min(length, SOME_MOMENT))
  print(
    `${strong(mode.title)}   seed ${played.seed}   ${seats.length} seats   ${formatElapsed(length)}`,
    timeline(feed, all),
    ...(board === undefined
      ? []
      : [
          columns(
            board.header,
            board.rows.map((row) => row.map(plain)),
          ),
        ]),
    ...(sheet === undefined || (board !== undefined && !hasCounters(sheet)) ? [] : sheetLines(sheet)),
    ...(played.picture === undefined ? [] : [played.picture]),
    ...(moment === undefined ? [] : [sights(moment)]),
    ...faultLines(faults),
    pairs([
      ['verdict', sentence(played, verdict)],
      ...(verdict === undefined ? [] : [['', reasonOf(verdict)] as const]),
      ['record', file],
      [
        'replay',
        `${played.inputs} inputs   ${same ? 'the same rulings and hashes' : 'DIFFERENT from the record'}`,
      ],
      ['next', `npx zinc-referee view ${file} --seat ${seats[0]?.id} --at ${when}${ownFile}`],
      [
        '',
        `${mode.named === 'reed-regatta' ? 'npm run fair' : `npx zinc-referee serve ${mode.named}${taken.length > 0 ? ` --with ${taken.join(',')}` : ''}`}   to play it in the browser`,
      ],
    ]),
  )
}

/** A board of the mode's own shows what scores and credit count. */
const hasCounters = ({ seats }: ScoreSheet): boolean => seats.some(({ rounds }) => rounds.length > 0)

function timeline(feed: readonly FeedLine[], all: boolean): string {
  const rows = feed.map(({ at, text, aside }) => [formatElapsed(at), text, dim(aside)])
  const left = rows.length - FIRST_LINES - LAST_LINES
  if (all || left <= 1) return columns(['time', 'what', ''], rows)
  return columns(
    ['time', 'what', ''],
    [
      ...rows.slice(0, FIRST_LINES),
      ['', dim(`… ${left} more lines (--all)`), ''],
      ...rows.slice(-LAST_LINES),
    ],
  )
}

function sights({ at, viewers, cells }: Moment): string {
  const shown = (value: unknown): string =>
    typeof value === 'object' && value !== null && 'hidden' in value ? hidden() : plain(value)
  return columns(
    [`At ${formatElapsed(at)}`, 'server', ...viewers],
    cells.map(({ path, server, seen }) => [path, plain(server), ...seen.map(shown)]),
  )
}

function sentence({ seats, over, length }: Played, verdict: Played['verdict']): string {
  if (verdict === undefined)
    return over ? 'none was asked for' : `none after ${formatRemaining(length)}: the match would go on`
  if (verdict.kind === 'none') return 'nobody wins'
  const names = verdict.winners.map((winner) => seats.find(({ id }) => id === winner)?.name ?? winner)
  return `${names.join(', ')} ${verdict.kind === 'draw' || names.length > 1 ? verdict.kind : 'wins'}`
}

const reasonOf = ({ reason, at }: NonNullable<Played['verdict']>): string =>
  `${reason}   after ${formatElapsed(at)} of play`
