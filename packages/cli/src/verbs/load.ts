import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Command, InvalidArgumentError } from 'commander'
import { exit } from '../errors.ts'
import { plotPage, reportText } from '../load/report.ts'
import { loadBare, loadVenue } from '../load/run.ts'
import { print } from '../print/output.ts'
import { exitWith, whole } from './options.ts'

/** zinc-referee load */
export const verb: Command = new Command('load')
  .option('--matches <number>', 'regattas at one time', count, 100)
  .option('--seats <number>', 'seats of each, 2 to 8', seatCount, 8)
  .option('--rate <number>', 'actions of each seat, a second', above0, 1)
  .option('--for <seconds>', 'how long, in seconds', above0, 30)
  .option('--slow <percent>', 'seats that read slowly', share, 0)
  .option('--drop <percent>', 'seats that lose their connection, each second', share, 0)
  .option('--no-records', 'keep no records')
  .option('--compress', 'compress messages')
  .option('--bare', 'compare with a bare WebSocket server')
  .option('--plot <file>', 'a page with a plot of each second')
  .action(exitWith(load))

interface LoadOptions {
  readonly matches: number
  readonly seats: number
  readonly rate: number
  readonly for: number
  readonly slow: number
  readonly drop: number
  readonly records: boolean
  readonly compress?: boolean
  readonly bare?: boolean
  readonly plot?: string
}

/** Plays regattas over sockets against a venue in a process of its own, and prints how it did. */
export async function load(options: LoadOptions): Promise<number> {
  const asked = {
    ...options,
    time: options.for * 1000,
    compress: options.compress ?? false,
    records: options.records ? mkdtempSync(join(tmpdir(), 'load-')) : undefined,
  }
  const venue = await loadVenue(asked, (second, { answered, sent }) => {
    if (second % 5 === 0) process.stderr.write(`${second} s   ${sent} calls   ${answered} answers\n`)
  }).finally(() => {
    if (asked.records !== undefined) rmSync(asked.records, { recursive: true, force: true })
  })
  const bare = options.bare ? await loadBare(asked, venue) : undefined
  print(reportText(asked, venue, bare))
  if (options.plot !== undefined) {
    writeFileSync(options.plot, plotPage(asked, venue))
    print(`The plot is in ${options.plot}.`)
  }
  return venue.lost > 0 ? exit.finding : exit.done
}

function seatCount(text: string): number {
  const seats = whole(text)
  if (seats < 2 || seats > 8) throw new InvalidArgumentError('A regatta has 2 to 8 seats.')
  return seats
}

function count(text: string): number {
  return above0(String(whole(text)))
}

function above0(text: string): number {
  const number = Number(text)
  if (!(number > 0 && Number.isFinite(number))) throw new InvalidArgumentError('It must be a number above 0.')
  return number
}

/** A percentage, as a part of 1. */
function share(text: string): number {
  const percent = Number(text.replace(/%$/, ''))
  if (!(percent >= 0 && percent <= 100)) throw new InvalidArgumentError('It must be 0 to 100.')
  return percent / 100
}
