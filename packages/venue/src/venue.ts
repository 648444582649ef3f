import type { AnyRulebook, Fault, Snapshot } from 'zinc-referee'
import type { HostClock } from 'zinc-referee/host'
import { type Admissions, admissionCheck } from './admissions.ts'
import type { CircuitLink } from './circuit-link.ts'
import { processClock } from './clock.ts'
import { type Deliver, type DeliveryAddress, Outbox, postTo, verdictOf } from './deliveries/index.ts'
import { venueError } from './errors.ts'
import { assertKnown, type Known } from './known-options.ts'
import { type Limits, usualLimits } from './limits.ts'
import { type Log, usualLog } from './log.ts'
import {
  type Bots,
  type HostedMatch,
  Matches,
  type MatchOptions,
  type NewerRulebook,
} from './matches/index.ts'
import type { Keeping } from './records/index.ts'
import { serve } from './serving.ts'
import type { VenueError } from './venue-error.ts'
import type { Channel, ChannelEnd } from './wire/index.ts'

/** Options of `openVenue`: where it listens, and where its records go. */
export interface VenueOptions {
  /** The port. 0 picks a free one. Default: 0. */
  readonly port?: number
  /** The address to listen on. Default: 127.0.0.1. */
  readonly host?: string
  /** Where and how records are kept: a folder, or more about it. Default: none are kept. */
  readonly records?: string | Keeping
  /**
   * The modes of the venue: what players may ask for, and what goes on of matches that a process left unfinished in
   * `records` when it was stopped or killed. Those go on where their records end: what was safe is there, and the time in
   * between does not count.
   */
  readonly rulebooks?: readonly AnyRulebook[]
  /** By mode, what makes a snapshot of an older version of the rulebook one of this version, for matches that go on. */
  readonly migrate?: { readonly [mode: string]: (old: Snapshot) => Snapshot }
  /**
   * Returns the newest version of a mode's rulebook, with which `POST /matches/:id/upgrade` lets a match go on. Default: no
   * match is upgraded over HTTP.
   */
  readonly renew?: (mode: string) => Promise<NewerRulebook>
  /**
   * Takes the verdict and the score sheet of each bout: a function, or an address. Each is sent until it is taken, also after
   * a crash, if there are `records`. Default: nobody.
   */
  readonly deliver?: Deliver | DeliveryAddress
  /** Bots that take empty seats, in matches for which players wait. Default: none. */
  readonly bots?: Bots
  /** Takes a line for each thing that an operator looks for. Default: warnings and errors, as JSON lines on stderr. */
  readonly log?: Log
  /** The certificate and its key, as PEM. Default: no TLS. */
  readonly tls?: { readonly cert: string; readonly key: string }
  /** Addresses of proxies whose `X-Forwarded-For` is believed. Default: none. */
  readonly proxies?: readonly string[]
  /** A port for the same messages as plain lines over TCP. 0 picks a free one. Default: none. */
  readonly tcp?: number
  /** If true, WebSocket messages are compressed (RFC 7692). It saves bytes and costs time and memory. Default: false. */
  readonly compress?: boolean
  /** Called for a record that has no end and from which no match could be restored. It is logged, too. */
  readonly onBroken?: (error: VenueError) => void
  /** A built page to serve next to the socket. */
  readonly page?: URL
  /** If true, anyone may see through the eyes of a seat: for showing a game, never for serious play. Default: false. */
  readonly allowViewAsAnySeat?: boolean
  /**
   * If true, whoever watches without an admission is a referee: it may report facts and direct, under its name. For work on a
   * mode, never for serious play. With `admissions` their roles decide, and this does nothing. Default: false.
   */
  readonly allowDriving?: boolean
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
  /** What makes it one venue of a circuit, which then keeps its matches. Default: it is alone. */
  readonly circuit?: CircuitLink
  /** Called when a match runs here: one that has begun, or one that goes on after a restart or from another venue. */
  readonly hosting?: (hosted: HostedMatch) => void
  /** Called when a player has taken a seat. */
  readonly joined?: (hosted: HostedMatch) => void
  /** Called at once for each fault: code of a match's rulebook has thrown. The match goes on. */
  readonly onFault?: (fault: Fault, match: string) => void
}

/** The matches of a process, and the server that clients reach them by. */
export interface Venue {
  /** The port that it listens on. */
  readonly port: number
  /** The port for lines over TCP, if it takes them. */
  readonly tcpPort: number | undefined
  /** The address of its page, for a browser. */
  readonly url: string
  /** The matches that are running. */
  readonly matches: readonly HostedMatch[]
  /** Begins a match, which ends with `close()` of what is returned. @throws ZR_VENUE_MATCH_TWICE, and what `beginMatch` throws */
  begin(id: string, book: AnyRulebook, options?: MatchOptions): HostedMatch
  /**
   * Returns a match of a mode with a free seat, and begins one if there is none: where your own matchmaking plugs in.
   * @throws ZR_VENUE_UNKNOWN_MODE, ZR_VENUE_FULL, ZR_VENUE_CLOSED
   */
  findOrBegin(mode: string): HostedMatch
  /**
   * Lets a match go on with a newer version of its rulebook, from where it is. Its clients come back by themselves, and new
   * matches of the mode begin with the newer one. It is tried first: a match that cannot go on with it goes on undisturbed.
   * @throws ZR_VENUE_UNKNOWN_MATCH, ZR_VENUE_NOT_UPGRADED
   */
  upgrade(id: string, newer: NewerRulebook): Promise<HostedMatch>
  /**
   * Takes a client over a channel of your own: from another page, through a pipe, or in this process. It is a client like any
   * other, with the same messages, admissions and limits. @throws ZR_VENUE_CLOSED
   */
  attach(channel: Channel): ChannelEnd
  /** Ends all matches and their records, notifies every client, and frees the port. */
  close(): Promise<void>
  /**
   * Closes the venue and leaves its matches unfinished: another one goes on with them from their records. Without records
   * they are gone.
   */
  suspend(): Promise<void>
}

const known: Known<VenueOptions> = {
  port: true,
  host: true,
  records: true,
  rulebooks: true,
  migrate: true,
  renew: true,
  deliver: true,
  bots: true,
  log: true,
  tls: true,
  proxies: true,
  tcp: true,
  compress: true,
  onBroken: true,
  page: true,
  allowViewAsAnySeat: true,
  allowDriving: true,
  clock: true,
  admissions: true,
  origins: true,
  limits: true,
  circuit: true,
  hosting: true,
  joined: true,
  onFault: true,
}

/**
 * Opens a venue: HTTP for the page and the list of matches, WebSocket (RFC 6455) under `/socket` with JSON-RPC 2.0.
 * @throws ZR_VENUE_UNKNOWN_OPTION, ZR_VENUE_PORT, ZR_VENUE_OPEN, ZR_VENUE_RECORDS_IN_USE
 */
export async function openVenue(options: VenueOptions = {}): Promise<Venue> {
  assertKnown('openVenue', options, known)
  const address = options.host ?? '127.0.0.1'
  if (options.admissions === undefined && !LOOPBACK.test(address))
    throw venueError('ZR_VENUE_OPEN', { address })
  const limits = { ...usualLimits, ...options.limits }
  const log = options.log ?? usualLog()
  const clock = options.clock ?? processClock
  const keeping = typeof options.records === 'string' ? { folder: options.records } : options.records
  const { circuit } = options
  let closed = false
  const matches = new Matches({
    keeping,
    keeper: circuit,
    rulebooks: options.rulebooks ?? [],
    clock,
    onFault(fault, match) {
      served.meters.faults.inc({ mode: matches.get(match)?.match.rulebook ?? 'unknown' })
      log.error({ match, fault: fault.id, in: fault.handler }, 'fault')
      options.onFault?.(fault, match)
    },
    max: limits.matches,
    onHost: options.hosting,
    onBroken: options.onBroken ?? (() => {}),
    bots: options.bots,
    migrate: options.migrate ?? {},
    log,
    onOver(hosted) {
      const verdict = outbox && verdictOf(hosted, admit !== undefined)
      if (verdict !== undefined) hosted.whenSafe(() => outbox?.add(verdict))
    },
  })
  const outbox = options.deliver && new Outbox(keeping?.folder, delivering(options.deliver), clock, log)
  const admit = options.admissions && admissionCheck(options.admissions)
  const joined = (hosted: HostedMatch): void => options.joined?.(hosted)
  const served = await serve({ matches, admit, limits, log, clock, isClosed: () => closed, joined }, options)
  // Before anybody can come in, since whoever finds no match gives up.
  matches.restoreAll()
  outbox?.begin()
  const stopRemoving = everySoOften(clock, () => matches.removeOld())
  const stop = async (how: 'end' | 'suspend'): Promise<void> => {
    if (closed) return
    closed = true
    stopRemoving()
    await circuit?.closing(how)
    await matches.stop(how)
    outbox?.close()
    await served.close()
    await circuit?.closed()
  }
  const ports = await served.listen(address).catch(async (error: unknown) => {
    await stop('suspend')
    throw error
  })
  const secure = options.tls === undefined ? '' : 's'
  circuit?.opened(matches, `ws${secure}://${address}:${ports[0]}/socket`, served.meters.registry)
  const url = `http${secure}://${address}:${ports[0]}/`
  return venueOf(matches, { url, ports, attach: served.attach, stop, isClosed: () => closed })
}

/** What a venue has that is open. */
interface OpenVenue {
  readonly url: string
  readonly ports: readonly [number, number | undefined]
  readonly attach: Venue['attach']
  readonly stop: (how: 'end' | 'suspend') => Promise<void>
  readonly isClosed: () => boolean
}

function venueOf(matches: Matches, { url, ports, attach, stop, isClosed }: OpenVenue): Venue {
  const [port, tcpPort] = ports
  const whileOpen =
    <A extends readonly unknown[], R>(act: (...given: A) => R) =>
    (...given: A): R => {
      if (isClosed()) throw venueError('ZR_VENUE_CLOSED', {})
      return act(...given)
    }
  return {
    port,
    tcpPort,
    url,
    get matches() {
      return [...matches.byId.values()]
    },
    begin: whileOpen((id: string, book: AnyRulebook, given: MatchOptions = {}) =>
      matches.begin(id, book, given),
    ),
    findOrBegin: whileOpen((mode: string) => matches.findOrBegin(mode)),
    upgrade: async (...given) => whileOpen(matches.upgrade.bind(matches))(...given),
    attach: whileOpen(attach),
    close: () => stop('end'),
    suspend: () => stop('suspend'),
  }
}

const LOOPBACK = /^(localhost$|127\.|::1$)/

const delivering = (to: Deliver | DeliveryAddress): Deliver => (typeof to === 'function' ? to : postTo(to))

const HOUR = 3_600_000

/** Does something now and each hour. Returns what calls it off. */
function everySoOften(clock: HostClock, act: () => void): () => void {
  let callOff = (): void => {}
  const again = (): void => {
    act()
    callOff = clock.wakeAfter(HOUR, again)
  }
  again()
  return () => callOff()
}
