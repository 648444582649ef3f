import { type BareView, type Notice, Replica } from 'zinc-referee/replica'
import type { Role } from '../roles.ts'
import type { VenueError } from '../venue-error.ts'
import { Addresses } from './addresses.ts'
import type {
  ActRuling,
  AnyActions,
  Client,
  ClientState,
  ConnectOptions,
  Described,
  PartAt,
  PathOf,
} from './client-types.ts'
import { elsewhere, isFinal, noConnection } from './errors.ts'
import { Guesses } from './guesses.ts'
import { type Heard, Line } from './line.ts'
import { Listeners } from './listeners.ts'
import type { Joined, Told } from './messages.ts'
import { keepAsking } from './pulse.ts'
import { inTime, timer, waitBefore } from './waiting.ts'

/** An action that has no ruling yet. */
interface Pending {
  readonly id: string
  readonly params: object
  resolve(ruling: ActRuling): void
  reject(error: Error): void
}

/** Codes of closed connections that are meant: the match is over, or this client is not wanted in it. */
const FINAL: readonly number[] = [1000, 1003, 4000, 4001]
/**
 * Enters a match. A connection that is lost later is opened again, with growing waits, until the match has ended.
 * @throws ZR_VENUE_REFUSED, ZR_VENUE_CONNECTION if it cannot enter at first
 */
export async function connect<V extends BareView, N extends Notice = Notice, A = AnyActions>(
  options: ConnectOptions,
): Promise<Client<V, N, A>> {
  const client = new ConnectedClient<V, N>(options)
  await client.enter()
  return client as Client<V, N> as Client<V, N, A>
}

class ConnectedClient<V extends BareView, N extends Notice> implements Client<V, N> {
  replica!: Replica<V, N>
  state: ClientState = 'lost'
  id = ''
  mode = ''
  private described: Promise<Described> | undefined
  /** The series of updates of this seat, and the last one that has come. */
  private seen: { readonly epoch: string; n: number } | undefined
  seat: string | null = null
  role: Role = 'watcher'
  player: string | undefined
  readonly clock: () => number
  private readonly given: ConnectOptions
  private readonly addresses: Addresses
  /** The match that it was given, or sent to. */
  private wanted: string | undefined
  private readonly unanswered: Set<Pending> = new Set()
  private readonly guesses: Guesses<V> = new Guesses()
  private readonly listeners: Listeners<V, N> = new Listeners()
  private line!: Line
  private hasLeft = false
  /** Its match goes on at an address that it knows. */
  private hasMoved = false

  constructor(options: ConnectOptions) {
    this.given = options
    this.addresses = new Addresses(options.url)
    this.wanted = options.match
    this.clock = options.clock ?? (() => performance.now())
    this.player = options.player
  }

  /** Opens a connection and joins by it, at whichever venue has the match. */
  async enter(): Promise<void> {
    try {
      await this.enterAt(this.addresses.next())
    } catch (error) {
      const at = elsewhere(error)
      if (at === undefined || !this.addresses.sentTo(at.url)) throw error
      this.wanted = at.match
      await this.enter()
    }
  }

  private enterAt(url: string): Promise<void> {
    const { mode, name, watch, admission } = this.given
    const match = this.id === '' ? this.wanted : this.id
    const Socket = this.given.WebSocket ?? WebSocket
    /** Updates that arrived right behind the answer to `join`. */
    let early: Heard[] | undefined = []
    let line: Line
    const joins = new Promise<void>((resolve, reject) => {
      line = new Line(Socket, url, {
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
            this.addresses.joined(url)
            this.addresses.know((joined as Joined<V, N>).others)
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
          reject(noConnection(why))
          if (!isFirst) void this.lost(why, code)
        },
      })
    })
    return inTime(joins, () => line.drop())
  }

  get view(): V {
    return this.guesses.on(this.replica.view)
  }

  on<P extends PathOf<V>>(path: P, handler: (part: PartAt<V, P>) => void): () => void {
    return this.listeners.on(path, handler, this.view)
  }

  onNotice(handler: (notice: N) => void): () => void {
    return this.listeners.onNotice(handler)
  }

  act(
    action: string,
    input: object = {},
    given: { readonly guess?: (view: V) => V } = {},
  ): Promise<ActRuling> {
    if (this.state === 'ended') return Promise.reject(noConnection())
    const { guess, ...how } = given
    const id = crypto.randomUUID()
    if (guess !== undefined) {
      this.guesses.add(id, guess)
      this.changed()
    }
    return new Promise((resolve, reject) => {
      const pending = { id, params: { action, input, id, ...how }, resolve, reject }
      this.unanswered.add(pending)
      if (this.state === 'live') this.send(pending)
    })
  }

  options(action: string, part: object = {}): Promise<readonly object[]> {
    return this.ask('options', { action, part }) as Promise<readonly object[]>
  }

  report(fact: string, input: object = {}): Promise<ActRuling> {
    return this.ask('report', { fact, input }) as Promise<ActRuling>
  }

  direct(directive: string, input: object = {}): Promise<ActRuling> {
    return this.ask('direct', { directive, input }) as Promise<ActRuling>
  }

  describe(): Promise<Described> {
    const asked = this.described ?? (this.ask('describe', {}) as Promise<Described>)
    this.described = asked
    asked.catch(() => {
      this.described = undefined
    })
    return asked
  }

  leave(): void {
    this.hasLeft = true
    this.line.close()
  }

  private ask(method: string, params: object): Promise<unknown> {
    return this.state === 'live' ? this.line.ask(method, params) : Promise.reject(noConnection())
  }

  private begin(joined: Joined<V, N>): void {
    const { view, epoch, n, missed = [] } = joined
    this.seen = { epoch, n }
    if (view !== undefined) this.replica = new Replica({ ...joined, view }, this.clock())
    for (const message of missed) this.hear(message)
    this.id = joined.match
    this.mode = joined.mode
    this.seat = joined.seat
    this.role = joined.role
    this.player = joined.player
    this.state = 'live'
    for (const pending of this.unanswered) this.send(pending)
    void this.measure(this.line)
  }

  /** Measures the venue's time while this line is the one in use. If it says nothing any more, the others are tried first. */
  private measure(line: Line): Promise<void> {
    return keepAsking(line, this.clock, {
      isInUse: () => this.line === line && this.state === 'live',
      answered: ({ at, others }, sent) => {
        this.addresses.know(others)
        if (at !== undefined) this.replica.measure({ at, sent, received: this.clock() })
      },
      gone: () => {
        this.addresses.passOver()
        line.drop()
      },
    })
  }

  private hear({ method, params }: Heard): void {
    const { url } = Object(params) as { readonly url?: string }
    if (method === 'moved' && url !== undefined) this.hasMoved = this.addresses.sentTo(url)
    const { n, at, view, patch = [], latest, notices = [], done } = params as Told<V, N>
    this.guesses.drop(done)
    if (n !== undefined && this.seen !== undefined) this.seen.n = n
    if (method === 'view' && view !== undefined)
      this.replica = new Replica({ at, view, notices }, this.clock())
    else if (method === 'view') this.replica.update({ at, patch, ...(latest && { latest }) }, this.clock())
    else if (method === 'notice') this.replica.update({ at, notices: [params as N] }, this.clock())
    else return
    this.changed()
  }

  private send(pending: Pending): void {
    this.line.ask('act', pending.params).then(
      (ruling) => {
        this.unanswered.delete(pending)
        pending.resolve(ruling as ActRuling)
        void this.settle(pending.id, ruling as ActRuling)
      },
      (error: VenueError) => {
        // Without an answer nobody knows whether it was done: it is sent again.
        if (error.code === 'ZR_VENUE_CONNECTION') return
        this.unanswered.delete(pending)
        this.guesses.drop(pending.id)
        pending.reject(error)
      },
    )
  }

  /** A guess that came true is shown until the view has it: what is answered behind the ruling comes behind that. */
  private async settle(id: string, ruling: ActRuling): Promise<void> {
    if (ruling.ok) await this.line.ask('ping', {}).catch(() => undefined)
    this.guesses.drop(id)
    if (this.state !== 'ended') this.changed()
  }

  private changed(): void {
    this.listeners.changed(this.view, this.replica.standing(this.clock()), this.guesses.size > 0)
    this.given.changed()
  }

  private async lost(why: string, code: number | undefined): Promise<void> {
    const { reconnect = true, wait = timer } = this.given
    if (this.hasLeft || !reconnect || (code !== undefined && FINAL.includes(code))) {
      this.end(why)
      return
    }
    this.state = 'lost'
    this.given.changed()
    for (let attempt = 0; !this.hasLeft; attempt++) {
      if (!this.hasMoved) await wait(waitBefore(attempt))
      this.hasMoved = false
      try {
        await this.enter()
        this.changed()
        return
      } catch (error) {
        if (isFinal(error)) {
          this.end(error.message)
          return
        }
      }
    }
    this.end(why)
  }

  private end(why: string): void {
    this.state = 'ended'
    for (const { reject } of this.unanswered) reject(noConnection(why))
    this.unanswered.clear()
    this.given.ended(why)
  }
}
