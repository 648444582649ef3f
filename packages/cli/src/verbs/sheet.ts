import { Command } from 'commander'
import { formatElapsed } from 'zinc-referee'
import { scoreSheet } from 'zinc-referee/replica'
import { exit } from '../errors.ts'
import { replayTo } from '../modes/replay-to.ts'
import { print, printJson, strong } from '../print/output.ts'
import { sheetCsv, sheetLines } from '../print/sheet-lines.ts'
import { exitWith, shared } from './options.ts'
import { parseTime } from './parse-time.ts'

/** zinc-referee sheet */
export const verb: Command = new Command('sheet')
  .argument('<record>')
  .option('--at <time>', 'match time: 0:57, 57s or 57000ms (default: the end)')
  .addOption(shared.rulebook)
  .option('--csv', 'comma-separated values, round by round')
  .addOption(shared.json)
  .action(exitWith(sheet))

export interface SheetOptions {
  readonly at?: string
  readonly rulebook?: string
  readonly csv?: boolean
  readonly json?: boolean
}

/** Prints the score sheet of a recorded match, as the server knows it. */
export async function sheet(file: string, { at, rulebook, csv, json }: SheetOptions): Promise<number> {
  const time = at === undefined ? undefined : parseTime(at)
  const { book, match, until } = await replayTo(file, rulebook, time)
  const whole = scoreSheet(match.view('server'))
  if (csv) process.stdout.write(sheetCsv(whole))
  else if (json) printJson(whole)
  else print(`${strong(book.name)}   the score sheet at ${formatElapsed(until)}`, ...sheetLines(whole))
  return exit.done
}
