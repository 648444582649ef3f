import { openWorkers, VenueError, type VenueOptions } from '@zinc-referee/venue'
import { CommandError, exit } from '../errors.ts'
import { pairs, print } from '../print/output.ts'

/** Hosts the matches by worker processes, each of which runs this command again, until it is interrupted. */
export async function serveByWorkers(
  count: number,
  { port, host, tls, log, tcp }: VenueOptions,
  records: string,
): Promise<number> {
  if (tcp !== undefined)
    throw new CommandError('Lines over TCP come to one process only. Leave out --tcp or --workers.')
  const [, entry = '', ...args] = process.argv
  const workers = await openWorkers({
    workers: count,
    entry,
    args,
    ...(port !== undefined && { port }),
    ...(host !== undefined && { host }),
    ...(tls && { tls }),
    ...(log && { log }),
  }).catch((error: unknown) => {
    throw error instanceof VenueError ? new CommandError(error.message) : error
  })
  print(
    pairs([
      ['page', workers.url],
      ['workers', `processes ${workers.pids.join(', ')}`],
      ['records', `a folder for each in ${records}`],
      ['next', 'open the page in two windows; Ctrl-C ends the matches and their records'],
    ]),
  )
  const signal = await new Promise<string>((stopped) => {
    for (const each of ['SIGINT', 'SIGTERM'] as const) process.once(each, stopped)
  })
  if (signal === 'SIGTERM') {
    await workers.suspend()
    print('The matches are suspended. Serve again with the same records to go on.')
  } else {
    await workers.close()
    print('The matches are closed, with whole records.')
  }
  return exit.done
}
