import { Command } from 'commander'
import { formatElapsed, replayRecord } from 'zinc-referee'
import { FaultKinds } from 'zinc-referee/testing'
import { exit } from '../errors.ts'
import { named, openLongRecord } from '../modes/open-record.ts'
import { faultLines } from '../print/fault-lines.ts'
import { pairs, print, printJson, strong } from '../print/output.ts'
import { exitWith, shared } from './options.ts'
import { parseTime } from './parse-time.ts'
import { Steps } from './replay-steps.ts'

/** zinc-referee replay */
export const verb: Command = new Command('replay')
  .argument('<record>')
  .addOption(shared.rulebook)
  .option('--steps', 'print each input with its ruling')
  .option('--seat <seat>', "print what a seat, 'spectator' or 'server' was sent at each step, too")
  .option('--from <time>', 'print steps from this match time on')
  .option('--to <time>', 'play up to this match time')
  .addOption(shared.json)
  .action(exitWith(replay))

/** Options of the verb. */
export interface ReplayOptions {
  readonly rulebook?: string
  readonly steps?: boolean
  readonly seat?: string
  readonly from?: string
  readonly to?: string
  readonly json?: boolean
}

/** Plays a record again and compares every ruling and hash. */
export async function replay(file: string, options: ReplayOptions): Promise<number> {
  const { content, book } = await openLongRecord(file, options.rulebook)
  const steps =
    options.steps || options.seat !== undefined ? new Steps(options.seat, options.from) : undefined
  const began = performance.now()
  const kinds = new FaultKinds()
  const { match, ...replayed } = replayRecord(book, content, {
    onFault: kinds.add,
    ...(options.to !== undefined && { until: parseTime(options.to) }),
    ...(steps && { onLine: steps.take }),
  })
  const faults = kinds.all()
  const took = Math.max(1, Math.round(performance.now() - began))
  const { inputs, checks, at, differs } = replayed
  if (options.json)
    printJson({
      record: file,
      rulebook: book.name,
      seed: content.header.seed,
      tookMs: took,
      ...replayed,
      ...(steps && { steps: steps.all }),
      hash: match.hash(),
      faults,
    })
  else {
    print(
      ...(steps === undefined ? [] : [steps.text(match)]),
      `${strong(book.name)}   seed ${content.header.seed}   ${formatElapsed(at)}`,
      pairs([
        ['inputs', String(inputs)],
        ['checks', String(checks)],
        ['took', `${took} ms`],
        ...(differs === undefined
          ? [['result', 'the same rulings and hashes'] as const]
          : [
              ['result', `differs at line ${differs.line}`] as const,
              ['recorded', differs.recorded] as const,
              ['replayed', differs.replayed] as const,
            ]),
        [
          'next',
          `npx zinc-referee view ${file} --seat ${match.allSeats[0] ?? 'spectator'} --at ${formatElapsed(at)}${named(options.rulebook)}`,
        ],
      ]),
      ...faultLines(faults),
    )
  }
  return differs === undefined && faults.length === 0 ? exit.done : exit.finding
}
