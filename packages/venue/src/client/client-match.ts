import type { RulebookDescription } from 'zinc-referee'
import { type BareView, type Notice, type Operation, Replica } from 'zinc-referee/replica'
import { VenueError } from '../errors.ts'
import { type Heard, Line, type SocketClass } from './line.ts'

/** Options of `connect`. */
export interface ConnectOptions {
  /** The address of the socket, such as `ws://127.0.0.1:4600/socket`. */
  readonly url: string
  /** The id of the match. Without it and `mode`: any that has room. */
  readonly match?: string
  /** The mode of a match with room. The venue begins one if there is none. */
  readonly mode?: string
  /** The player's name. */
  readonly name?: string
  /** The secret from an earlier visit. It gives the same seat again. */
  readonly player?: string
  /** Views without a seat. */
  readonly watch?: string
  /** The token that lets its holder in, at a venue that asks for one. */
  readonly admission?: string
  /** Called after every change, of the view and of `state`. */
  readonly changed: () => void
  /** Called once, when the match has ended for this client and it does not try again. */
  readonly ended: (why: string) => void
  /** A clock in ms that never goes back. */
  readonly clock?: () => number
  /** If false, a connection that is lost is not opened again. Default: true. */
  readonly reconnect?: boolean
  /** Resolves after this many ms. Default: a timer. */
  readonly wait?: (ms: number) => Promise<unknown>
  /** The class of its socket. Default: the global `WebSocket`, which Node has from version 22 on; before, pass that of `ws`. */
  readonly WebSocket?: SocketClass
}
/** The answer to an action that was refused. */
export interface Refused {
  /** Always false: an accepted action has true. */
  readonly ok: false
  /** The code of the refusal. */
  readonly code: string
  /** The refusal as a sentence for the player. */
  readonly says: string
}
type ActRuling = { readonly ok: true } | Refused

/** How a client stands to its match: it is connected, it tries to be again, or it has ended. */
export type ClientState = 'live' | 'lost' | 'ended'

/** One client's copy of a match. */
export interface ClientMatch<V extends BareView, N extends Notice = Notice> {
  /** Its id at the venue. */
  readonly id: string
  /** The name of its rulebook. */
  readonly mode: string
  /** The view, kept current, with the server's clocks. It may be another one after a reconnect. */
  readonly replica: Replica<V, N>
  /** Whether it is connected now. */
  readonly state: ClientState
  /** The client's seat; null for a spectator. */
  readonly seat: string | null
  /** The secret to keep for the next visit; undefined for a spectator. */
  readonly player: string | undefined
  /** Returns the client's own clock, in ms. */
  clock(): number
  /**
   * Sends an action and returns its ruling. While the connection is lost it waits; what was sent and not answered is sent
   * again with the same id, so that it is done once.
   */
  act(
    action: string,
    input?: object,
    how?: { readonly life?: number; readonly turn?: number },
  ): Promise<ActRuling>
  /** The inputs with which an action would be accepted now, for actions whose options are not in the view. */
  options(action: string, part?: object): Promise<readonly object[]>
  /** Asks for the rulebook as data. It is asked for once. */
  describe(): Promise<RulebookDescription>
  /** Closes the connection. The seat is then absent. */
  leave(): void
}

/** The venue's answer to `join`: a whole view, or what an earlier connection has missed. */
interface Joined<V, N extends Notice> {
  readonly view?: V
  readonly at: number
  readonly notices?: readonly N[]
  readonly missed?: readonly Heard[]
  readonly epoch: string
  readonly n: number
  readonly match: string
  readonly mode: string
  readonly seat: string | null
  readonly player?: string
}
/** What the params of a message may hold: a patch, a whole view for a client that was too slow, or a notice. */
interface Told<V, N extends Notice> {
  readonly n?: number
  readonly at: number
  readonly patch?: readonly Operation[]
  readonly view?: V
  readonly notices?: readonly N[]
}
/** An action that has no ruling yet. */
interface Pending {
  readonly params: object
  resolve(ruling: ActRuling): void
  reject(error: Error): void
}

/** Codes of closed connections that are meant: the match is over, or this client is not wanted in it. */
const FINAL: readonly number[] = [1000, 1003, 4000, 4001]
const [FIRST_WAIT, LONGEST_WAIT] = [400, 10_000]
/** How often it asks for the venue's time, in ms: soon after it has joined, then rarely. */
const [PING_SOON, PING_EVERY] = [200, 10_000]
/** How many times it asks soon. */
const PINGS_SOON = 3

/** Returns how long to wait before a try, in ms: longer each time, and never the same for many at once. */
const waitBefore = (attempt: number): number =>
  Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** attempt) * (0.5 + Math.random() / 2)

/**
 * Enters a match. A connection that is lost later is opened again, with growing waits, until the match has ended.
 * @throws ZR_VENUE_REFUSED, ZR_VENUE_CONNECTION if it cannot enter at first
 */
export async function connect<V extends BareView, N extends Notice = Notice>(
  options: ConnectOptions,
): Promise<ClientMatch<V, N>> {
  const client = new Client<V, N>(options)
  await client.enter()
  return client
}

class Client<V extends BareView, N extends Notice> implements ClientMatch<V, N> {
  replica!: Replica<V, N>
  state: ClientState = 'lost'
  id = ''
  mode = ''
  private described: Promise<RulebookDescription> | undefined
  /** The series of updates of this seat, and the last one that has come. */
  private seen: { readonly epoch: string; n: number } | undefined
  seat: string | null = null
  player: string | undefined
  readonly clock: () => number
  private readonly given: ConnectOptions
  private readonly unanswered: Set<Pending> = new Set()
  private line!: Line
  private hasLeft = false

  constructor(options: ConnectOptions) {
    this.given = options
    this.clock = options.clock ?? (() => performance.now())
    this.player = options.player
  }

  /** Opens a connection and joins by it. */
  enter(): Promise<void> {
    const { url, mode, name, watch, admission } = this.given
    const match = this.id === '' ? this.given.match : this.id
    const Socket = this.given.WebSocket ?? WebSocket
    /** Updates that arrived right behind the answer to `join`. */
    let early: Heard[] | undefined = []
    return new Promise((resolve, reject) => {
      const line = new Line(Socket, url, {
        open: async () => {
          try {
            const joined = await line.ask('join', {
              match,
              mode: match === undefined ? mode : undefined,
              name,
              player: this.player,
              watch,
              admission,
              from: this.seat === null ? undefined : this.seen,
            })
            this.line = line
            this.begin(joined as Joined<V, N>)
            const held = early ?? []
            early = undefined
            for (const message of held) this.hear(message)
            resolve()
          } catch (error) {
            reject(error instanceof Error ? error : new Error(String(error)))
            line.close()
          }
        },
        heard: (message) => (early === undefined ? this.hear(message) : early.push(message)),
        closed: (why, code) => {
          const isFirst = this.state !== 'live' || this.line !== line
          reject(new VenueError('ZR_VENUE_CONNECTION', { why }))
          if (!isFirst) void this.lost(why, code)
        },
      })
    })
  }

  act(action: string, input: object = {}, how: object = {}): Promise<ActRuling> {
    if (this.state === 'ended') return Promise.reject(gone())
    return new Promise((resolve, reject) => {
      const pending = { params: { action, input, id: crypto.randomUUID(), ...how }, resolve, reject }
      this.unanswered.add(pending)
      if (this.state === 'live') this.send(pending)
    })
  }

  options(action: string, part: object = {}): Promise<readonly object[]> {
    return this.state === 'live'
      ? (this.line.ask('options', { action, part }) as Promise<readonly object[]>)
      : Promise.reject(gone())
  }

  describe(): Promise<RulebookDescription> {
    if (this.state !== 'live') return Promise.reject(gone())
    const asked = this.described ?? (this.line.ask('describe', {}) as Promise<RulebookDescription>)
    this.described = asked
    asked.catch(() => {
      this.described = undefined
    })
    return asked
  }

  leave(): void {
    this.hasLeft = true
    this.line?.close()
  }

  private begin(joined: Joined<V, N>): void {
    const { view, epoch, n, missed = [] } = joined
    this.seen = { epoch, n }
    if (view !== undefined) this.replica = new Replica({ ...joined, view }, this.clock())
    for (const message of missed) this.hear(message)
    this.id = joined.match
    this.mode = joined.mode
    this.seat = joined.seat
    this.player = joined.player
    this.state = 'live'
    for (const pending of this.unanswered) this.send(pending)
    void this.measure(this.line)
  }

  /** Asks for the venue's time again and again, while this line is the one in use. */
  private async measure(line: Line): Promise<void> {
    const { wait = timer } = this.given
    for (let asked = 0; this.line === line && this.state === 'live'; asked++) {
      const sent = this.clock()
      const answer = await line.ask('ping', {}).catch(() => undefined)
      const { at } = Object(answer) as { readonly at?: number }
      if (at !== undefined && this.line === line) this.replica.measure({ at, sent, received: this.clock() })
      await wait(asked < PINGS_SOON ? PING_SOON : PING_EVERY)
    }
  }

  private hear({ method, params }: Heard): void {
    const { n, at, view, patch = [], notices = [] } = params as Told<V, N>
    if (n !== undefined && this.seen !== undefined) this.seen.n = n
    if (method === 'view' && view !== undefined)
      this.replica = new Replica({ at, view, notices }, this.clock())
    else if (method === 'view') this.replica.update({ at, patch }, this.clock())
    else if (method === 'notice') this.replica.update({ at, notices: [params as N] }, this.clock())
    else return
    this.given.changed()
  }

  private send(pending: Pending): void {
    this.line.ask('act', pending.params).then(
      (ruling) => {
        this.unanswered.delete(pending)
        pending.resolve(ruling as ActRuling)
        this.given.changed()
      },
      (error: VenueError) => {
        // Without an answer nobody knows whether it was done: it is sent again.
        if (error.code === 'ZR_VENUE_CONNECTION') return
        this.unanswered.delete(pending)
        pending.reject(error)
      },
    )
  }

  private async lost(why: string, code: number | undefined): Promise<void> {
    const { reconnect = true, wait = timer, changed } = this.given
    if (this.hasLeft || !reconnect || (code !== undefined && FINAL.includes(code))) {
      this.end(why)
      return
    }
    this.state = 'lost'
    changed()
    for (let attempt = 0; !this.hasLeft; attempt++) {
      await wait(waitBefore(attempt))
      try {
        await this.enter()
        changed()
        return
      } catch (error) {
        if (error instanceof VenueError && error.code === 'ZR_VENUE_REFUSED' && error.cause !== 'not-now') {
          this.end(error.message)
          return
        }
      }
    }
    this.end(why)
  }

  private end(why: string): void {
    this.state = 'ended'
    for (const { reject } of this.unanswered) reject(gone(why))
    this.unanswered.clear()
    this.given.ended(why)
  }
}

const timer = (ms: number): Promise<unknown> => new Promise((done) => setTimeout(done, ms))
const gone = (why = 'the connection was lost'): VenueError => new VenueError('ZR_VENUE_CONNECTION', { why })
