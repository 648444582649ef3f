import { once } from 'node:events'
import { createServer } from 'node:http'
import { createServer as createTlsServer } from 'node:https'
import type { AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import { venueError } from '../errors.ts'
import { type Limits, usualLimits } from '../limits.ts'
import { type Log, usualLog } from '../log.ts'
import { Finder } from './find-worker.ts'
import { answerHttp } from './front-http.ts'
import { openFrontSockets } from './front-sockets.ts'
import { type WorkerOrder, WorkerProcess } from './worker-process.ts'

/** Options of `openWorkers`. */
export interface WorkersOptions {
  /** How many worker processes there are. */
  readonly workers: number
  /** The module that calls `runWorker` in each of them. */
  readonly entry: URL | string
  /** Arguments for that module. Default: none. */
  readonly args?: readonly string[]
  /** Options of Node for them. Default: those of this process. */
  readonly nodeArgs?: readonly string[]
  /** The port. 0 picks a free one. Default: 0. */
  readonly port?: number
  /** The address to listen on. Without admissions, only this machine's own. Default: 127.0.0.1. */
  readonly host?: string
  /** The certificate and its key, as PEM. Default: no TLS. */
  readonly tls?: { readonly cert: string; readonly key: string }
  /** Pages of other origins whose scripts may connect. Default: its own page only. */
  readonly origins?: readonly string[]
  /** Addresses of proxies whose `X-Forwarded-For` is believed. Default: none. */
  readonly proxies?: readonly string[]
  /** Limits of connections: `messageBytes` and `heartbeat`. All others belong to the workers. */
  readonly limits?: Partial<Pick<Limits, 'messageBytes' | 'heartbeat'>>
  /** Takes a line for each thing that an operator looks for. Default: warnings and errors, as JSON lines on stderr. */
  readonly log?: Log
}

/** The workers of one machine, behind one port. */
export interface Workers {
  /** The port that clients reach them by. */
  readonly port: number
  /** The address of its page, for a browser. */
  readonly url: string
  /** Process ids of the workers that are there. */
  readonly pids: readonly number[]
  /** Ends all matches and their records, and all processes. */
  close(): Promise<void>
  /** Ends all processes and leaves the matches unfinished: they go on from their records. */
  suspend(): Promise<void>
}

/**
 * Spreads matches over worker processes of this machine, behind one port. A worker that dies is begun again, and goes on with
 * its matches from their records.
 * @throws ZR_VENUE_PORT, ZR_VENUE_OPEN, ZR_VENUE_WORKER with what keeps a worker from opening its venue
 */
export async function openWorkers(options: WorkersOptions): Promise<Workers> {
  const { host = '127.0.0.1', tls, origins = [], proxies = [] } = options
  const log = options.log ?? usualLog()
  let sockets: ReturnType<typeof openFrontSockets> | undefined
  const workers = await beginAll(options, log, (worker) => sockets?.lost(worker))
  const stopAll = (order: WorkerOrder): Promise<unknown> =>
    Promise.all(workers.map((worker) => worker.stop(order)))
  const isOpen = workers.some((worker) => worker.isOpen)
  if (isOpen && !LOOPBACK.test(host)) {
    await stopAll('suspend')
    throw venueError('ZR_VENUE_OPEN', { address: host })
  }
  const finder = new Finder(workers)
  let isClosing = false
  const http = (tls === undefined ? createServer() : createTlsServer(tls)).on('request', (asked, answer) => {
    answerHttp(finder, asked, answer, () => isClosing).catch(() => answer.destroy())
  })
  const limits = { ...usualLimits, ...options.limits }
  sockets = openFrontSockets(http, finder, { origins, proxies, isOpen, limits, log })
  const stop = async (order: WorkerOrder): Promise<void> => {
    if (isClosing) return
    isClosing = true
    await stopAll(order)
    sockets?.close()
    http.closeAllConnections()
    await new Promise((closed) => http.close(closed))
  }
  http.listen(options.port ?? 0, host)
  try {
    await once(http, 'listening')
  } catch (error) {
    await stop('suspend')
    throw venueError('ZR_VENUE_PORT', { port: options.port ?? 0, why: wordsOf(error) }, error)
  }
  const { port } = http.address() as AddressInfo
  return {
    port,
    url: `${tls === undefined ? 'http' : 'https'}://${host}:${port}/`,
    get pids() {
      return workers.flatMap(({ pid }) => pid ?? [])
    },
    close: () => stop('close'),
    suspend: () => stop('suspend'),
  }
}

const LOOPBACK = /^(localhost$|127\.|::1$)/
const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error))

/** Begins all workers. If one cannot open its venue, none stays. @throws ZR_VENUE_WORKER */
async function beginAll(
  { workers: count, entry, args = [], nodeArgs = process.execArgv }: WorkersOptions,
  log: Log,
  died: (worker: WorkerProcess) => void,
): Promise<readonly WorkerProcess[]> {
  if (!Number.isSafeInteger(count) || count < 1)
    throw venueError('ZR_VENUE_WORKER', { why: `there must be at least one, not ${count}.` })
  const path = entry instanceof URL ? fileURLToPath(entry) : entry
  const workers = Array.from(
    { length: count },
    (_, at) => new WorkerProcess(at + 1, { entry: path, args, nodeArgs, count, log, died }),
  )
  try {
    await Promise.all(workers.map((worker) => worker.begin()))
    return workers
  } catch (error) {
    await Promise.all(workers.map((worker) => worker.stop('suspend')))
    throw venueError('ZR_VENUE_WORKER', { why: wordsOf(error) }, error)
  }
}
