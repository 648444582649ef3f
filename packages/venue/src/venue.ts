import { once } from 'node:events'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { AnyRulebook, Fault, Seat, Seed } from 'zinc-referee'
import type { HostClock } from 'zinc-referee/host'
import { type Admissions, admissionCheck } from './admissions.ts'
import { processClock } from './clock.ts'
import { VenueError } from './errors.ts'
import type { HostedMatch } from './hosted-match.ts'
import { httpAnswers } from './http-answers.ts'
import { type Limits, usualLimits } from './limits.ts'
import { Matches } from './matches.ts'
import { makeMeters } from './meters.ts'
import type { Keeping } from './records/index.ts'
import { Sockets } from './sockets.ts'
import type { Doors } from './visitor.ts'

/** Options of `openVenue`: where it listens, and where its records go. */
export interface VenueOptions {
  /** The port. 0 picks a free one. Default: 0. */
  readonly port?: number
  /** The address to listen on. Default: 127.0.0.1. */
  readonly host?: string
  /** Where and how records are kept: a folder, or more about it. Default: none are kept. */
  readonly records?: string | Keeping
  /**
   * The rulebooks of matches that may have been left unfinished in `records`, by a process that was stopped or killed. They
   * go on where their records end: what was safe is there, and the time in between does not count.
   */
  readonly rulebooks?: readonly AnyRulebook[]
  /** Called for a record that has no end and from which no match could be restored. Default: a warning of the process. */
  readonly onBroken?: (error: VenueError) => void
  /** A built page to serve next to the socket. */
  readonly page?: URL
  /** If true, anyone may see through the eyes of a seat: for showing a game, never for serious play. Default: false. */
  readonly allowViewAsAnySeat?: boolean
  /** The clock that it runs on. Default: this process's clock. */
  readonly clock?: HostClock
  /**
   * Who may come in. Default: anybody. Then it may only listen on this machine's own addresses.
   */
  readonly admissions?: Admissions
  /** Pages of other origins whose scripts may connect, such as `https://fair.example`. Default: its own page only. */
  readonly origins?: readonly string[]
  /** What one client may ask of it. */
  readonly limits?: Partial<Limits>
  /** Called when a player has taken a seat. */
  readonly joined?: (hosted: HostedMatch) => void
  /** Called at once for each fault: code of a match's rulebook has thrown. The match goes on. */
  readonly onFault?: (fault: Fault, match: string) => void
}
/** Options of a hosted match. */
export interface MatchOptions {
  /** The seed of its chance. Default: random. */
  readonly seed?: Seed
  /** Settings by rule. They override those of the rulebook. */
  readonly settings?: object
  /** The optional rules that it uses. */
  readonly with?: readonly string[]
  /** Delay for spectators, in ms. Default: 0. */
  readonly spectatorDelay?: number
}

const SOCKET_PATH = '/socket'

/** The matches of a process, and the server that clients reach them by. */
export interface Venue {
  /** The port that it listens on. */
  readonly port: number
  /** The address of its page, for a browser. */
  readonly url: string
  /** The matches that are running. */
  readonly matches: readonly HostedMatch[]
  /** Begins a match, which ends with `close()` of what is returned. @throws ZR_VENUE_MATCH_TWICE, and what `beginMatch` throws */
  begin(id: string, book: AnyRulebook, options?: MatchOptions): HostedMatch
  /** Ends all matches and their records, notifies every client, and frees the port. */
  close(): Promise<void>
  /**
   * Closes the venue and leaves its matches unfinished: another one goes on with them from their records. Without records
   * they are gone.
   */
  suspend(): Promise<void>
}

/**
 * Opens a venue: HTTP for the page and the list of matches, WebSocket (RFC 6455) under `/socket` with JSON-RPC 2.0.
 * @throws ZR_VENUE_PORT, ZR_VENUE_OPEN, ZR_VENUE_RECORDS_IN_USE
 */
export async function openVenue(options: VenueOptions = {}): Promise<Venue> {
  const address = options.host ?? '127.0.0.1'
  if (options.admissions === undefined && !LOOPBACK.test(address))
    throw new VenueError('ZR_VENUE_OPEN', { address })
  const limits = { ...usualLimits, ...options.limits }
  let closed = false
  const matches = new Matches({
    keeping: typeof options.records === 'string' ? { folder: options.records } : options.records,
    rulebooks: options.rulebooks ?? [],
    clock: options.clock,
    onFault(fault, match) {
      meters.faults.inc({ match })
      options.onFault?.(fault, match)
    },
    max: limits.matches,
    onBroken: options.onBroken ?? ((error) => process.emitWarning(error)),
  })
  const hosted = matches.byId
  const meters = makeMeters({ matches: () => hosted.size, connections: () => sockets.size })
  const http = createServer(
    httpAnswers({
      matches: hosted,
      meters,
      isClosed: () => closed,
      page: options.page,
      socketPath: SOCKET_PATH,
    }),
  )
  let spectators = 0
  const doors: Doors = {
    match: (id) => (id === undefined ? hosted.values().next().value : hosted.get(id)),
    allowViewAsAnySeat: options.allowViewAsAnySeat ?? false,
    seatFor: freeSeatId,
    joined: (match) => options.joined?.(match),
    spectatorId: () => `spectator-${++spectators}`,
    seated: new Map(),
    ...(options.admissions && { admit: admissionCheck(options.admissions) }),
  }
  const { now } = options.clock ?? processClock
  const sockets = new Sockets(http, SOCKET_PATH, { doors, limits, meters, now }, options.origins ?? [])
  // Before anybody can come in, since whoever finds no match gives up.
  matches.restoreAll()
  const port = await listen(http, options.port ?? 0, address).catch(async (error: unknown) => {
    await matches.stop('suspend')
    sockets.close()
    throw error
  })
  const stop = async (how: 'end' | 'suspend'): Promise<void> => {
    if (closed) return
    closed = true
    await matches.stop(how)
    sockets.close()
    http.close()
    http.closeAllConnections()
  }

  return {
    port,
    url: `http://${address}:${port}/`,
    get matches() {
      return [...hosted.values()]
    },
    begin(id, book, given = {}) {
      if (closed) throw new VenueError('ZR_VENUE_CLOSED', {})
      return matches.begin(id, book, given)
    },
    close: () => stop('end'),
    suspend: () => stop('suspend'),
  }
}

const LOOPBACK = /^(localhost$|127\.|::1$)/

async function listen(http: Server, port: number, host: string): Promise<number> {
  http.listen(port, host)
  try {
    await once(http, 'listening')
  } catch (error) {
    throw new VenueError(
      'ZR_VENUE_PORT',
      { port, why: error instanceof Error ? error.message : String(error) },
      error,
    )
  }
  return (http.address() as AddressInfo).port
}

/**
 * Returns a seat id made from the name, with a number if the id is taken. It is never an id that another player had
 * in this match, because the state may still name that player.
 */
function freeSeatId({ match, seatIds }: HostedMatch, name: string): Seat {
  const base =
    name
      .trim()
      .toLowerCase()
      .normalize('NFKD')
      .replaceAll(/[^a-z0-9]+/g, '-')
      .replaceAll(/^-|-$/g, '')
      .slice(0, 20) || 'guest'
  const safe = /^(server$|spectator|former-)/.test(base) ? `seat-${base}` : base
  for (let n = 1; ; n++) {
    const id = n === 1 ? safe : `${safe}-${n}`
    if (!match.allSeats.includes(id) && !seatIds.has(id)) return id
  }
}
