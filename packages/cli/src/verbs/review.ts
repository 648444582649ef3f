import { once } from 'node:events'
import { deskFolder } from '@zinc-referee/examples/by-name'
import { Command } from 'commander'
import { formatElapsed } from 'zinc-referee'
import { openReview } from '../desk/review-server.ts'
import { CommandError, exit } from '../errors.ts'
import { openRecord } from '../modes/open-record.ts'
import { pairs, print, strong } from '../print/output.ts'
import { exitWith, shared, whole } from './options.ts'

/** zinc-referee review */
export const verb: Command = new Command('review')
  .argument('<record>')
  .addOption(shared.rulebook)
  .option('--port <number>', 'the port of the page; 0 picks a free one', whole, 0)
  .action(exitWith(review))

/** Serves a page that looks back at a record, until it is interrupted. */
async function review(
  file: string,
  { rulebook, port }: { readonly rulebook?: string; readonly port: number },
): Promise<number> {
  const { content, book } = await openRecord(file, rulebook)
  const server = await openReview(book, content, { file, port, page: deskFolder }).catch((error: unknown) => {
    throw new CommandError(`Port ${port} cannot be opened: ${String(error)}. Choose another with --port.`)
  })
  const inputs = content.lines.filter(({ line }) => 'input' in line).length
  print(
    `${strong(book.name)}   ${inputs} inputs   ${formatElapsed(content.lines.at(-1)?.line.t ?? 0)}`,
    pairs([
      ['page', server.url],
      ['next', 'open the page; it is for this machine alone. Ctrl-C ends it'],
    ]),
  )
  await Promise.race(['SIGINT', 'SIGTERM'].map((signal) => once(process, signal)))
  await server.close()
  return exit.done
}
