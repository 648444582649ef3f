import type { RulebookDescription } from 'zinc-referee'
import { type BareView, type Notice, type Operation, Replica } from 'zinc-referee/replica'
import { VenueError } from '../errors.ts'
import { type Heard, Line, type SocketClass } from './line.ts'

/** Options of `connect`. */
export interface ConnectOptions {
  /** The address of the socket, such as `ws://127.0.0.1:4600/socket`. */
  readonly url: string
  /** The id of the match. */
  readonly match?: string
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
  /** The view, kept current, with the server's clocks. It is another one after a reconnect. */
  readonly replica: Replica<V, N>
  /** Whether it is connected now. */
  readonly state: ClientState
  /** The rulebook as data. */
  readonly rulebook: RulebookDescription
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
  /** Closes the connection. The seat is then absent. */
  leave(): void
}

/** The venue's answer to `join`. */
interface Joined<V, N extends Notice> {
  readonly view: V
  readonly at: number
  readonly notices: readonly N[]
  readonly rulebook: RulebookDescription
  readonly match: string
  readonly seat: string | null
  readonly player?: string
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
  rulebook!: RulebookDescription
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
    const { url, match, name, watch, admission } = this.given
    const Socket = this.given.WebSocket ?? WebSocket
    /** Updates that arrived right behind the answer to `join`. */
    let early: Heard[] | undefined = []
    return new Promise((resolve, reject) => {
      const line = new Line(Socket, url, {
        open: async () => {
          try {
            const joined = await line.ask('join', { match, name, player: this.player, watch, admission })
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

  leave(): void {
    this.hasLeft = true
    this.line?.close()
  }

  private begin(joined: Joined<V, N>): void {
    this.replica = new Replica(joined, this.clock())
    this.id = joined.match
    this.rulebook = joined.rulebook
    this.seat = joined.seat
    this.player = joined.player
    this.state = 'live'
    for (const pending of this.unanswered) this.send(pending)
  }

  private hear({ method, params }: Heard): void {
    const { at, patch } = params as { readonly at: number; readonly patch?: readonly Operation[] }
    if (method === 'view') this.replica.update({ at, patch: patch ?? [] }, this.clock())
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
