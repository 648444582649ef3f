import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { venueError } from '../errors.ts'
import type { Keeping } from '../records/index.ts'
import { unfinishedIn } from '../records/index.ts'
import { openVenue, type Venue, type VenueOptions } from '../venue.ts'
import { VenueError } from '../venue-error.ts'
import { COUNT, NUMBER, type WorkerOrder, type WorkerSays } from './worker-process.ts'

/** Which worker this process is, from 1, and how many there are; nothing in a process that `openWorkers` did not begin. */
export function thisWorker(): { readonly number: number; readonly count: number } | undefined {
  const [number, count] = [Number(process.env[NUMBER]), Number(process.env[COUNT])]
  return number > 0 && process.send !== undefined ? { number, count } : undefined
}

/**
 * Opens the venue of a worker, in a process that `openWorkers` has begun. Its records are in a folder of its own in the one
 * that is given. Where it listens, and TLS, are for `openWorkers`. Returns nothing if the venue cannot be opened: then the
 * process ends, and `openWorkers` says why.
 */
export async function runWorker(
  options: Omit<VenueOptions, 'port' | 'host' | 'tls' | 'tcp' | 'proxies' | 'origins'>,
): Promise<Venue | undefined> {
  const worker = thisWorker()
  if (worker === undefined) throw venueError('ZR_VENUE_NO_WORKER', {})
  const say = (message: WorkerSays): void => void process.send?.(message)
  try {
    const records = options.records === undefined ? undefined : own(options.records, worker)
    const venue = await openVenue({
      ...options,
      ...(records && { records }),
      port: 0,
      proxies: ['127.0.0.1'], // the front, which says for whom it asks
    })
    const end = async (order: WorkerOrder): Promise<void> => {
      await (order === 'close' ? venue.close() : venue.suspend())
      process.disconnect?.()
    }
    process.once('message', end)
    process.once('disconnect', () => void venue.suspend())
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => {}) // the front says when to end
    say({ port: venue.port, isOpen: options.admissions === undefined })
    return venue
  } catch (error) {
    if (!(error instanceof VenueError)) throw error
    say({ failed: { code: error.code, message: error.message } })
    process.disconnect?.()
    return undefined
  }
}

const folderOf = (folder: string, number: number): string => join(folder, `worker-${number}`)

/** The records of one worker. @throws ZR_VENUE_FEWER_WORKERS if those of a worker that is missing have running matches */
function own(
  given: string | Keeping,
  { number, count }: { readonly number: number; readonly count: number },
): Keeping {
  const keeping = typeof given === 'string' ? { folder: given } : given
  for (let missing = count + 1; existsSync(folderOf(keeping.folder, missing)); missing++)
    if (unfinishedIn(folderOf(keeping.folder, missing)).length > 0)
      throw venueError('ZR_VENUE_FEWER_WORKERS', { folder: keeping.folder, missing, count })
  return { ...keeping, folder: folderOf(keeping.folder, number) }
}
