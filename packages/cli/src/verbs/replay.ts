import { Command } from 'commander'
import { formatElapsed, replayRecord } from 'zinc-referee'
import { FaultKinds } from 'zinc-referee/testing'
import { exit } from '../errors.ts'
import { named, openRecord } from '../modes/open-record.ts'
import { faultLines } from '../print/fault-lines.ts'
import { pairs, print, printJson, strong } from '../print/output.ts'
import { exitWith, shared } from './options.ts'

/** zinc-referee replay */
export const verb: Command = new Command('replay')
  .argument('<record>')
  .addOption(shared.rulebook)
  .addOption(shared.json)
  .action(exitWith(replay))

/** Plays a record again and compares every ruling and hash. */
export async function replay(
  file: string,
  options: { readonly rulebook?: string; readonly json?: boolean },
): Promise<number> {
  const { content, book } = await openRecord(file, options.rulebook)
  const began = performance.now()
  const kinds = new FaultKinds()
  const { match, ...replayed } = replayRecord(book, content, { onFault: kinds.add })
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
      hash: match.hash(),
      faults,
    })
  else {
    print(
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
