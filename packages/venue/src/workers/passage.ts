import { WebSocket } from 'ws'
import { closingOf, errorText, LITTLE, MUCH } from '../wire/index.ts'
import type { Finder, WantedMatch } from './find-worker.ts'
import type { WorkerProcess } from './worker-process.ts'

const [CLOSE_GOING, CLOSE_TOO_MUCH] = [1001, 1008]
/** So many messages may wait for a worker to be found. */
const MOST_WAITING = 64

interface Message {
  readonly id?: unknown
  readonly method?: unknown
  readonly params?: WantedMatch
  readonly result?: unknown
  readonly error?: unknown
}

/**
 * The way of one client to its worker: to any at first, and from its `join` on to the one that has its match. After that,
 * messages are passed on unread.
 */
export class Passage {
  private readonly client: WebSocket
  private readonly address: string
  private readonly finder: Finder
  private worker: WorkerProcess | undefined
  private upstream: WebSocket | undefined
  /** Messages that wait while a worker is looked for. */
  private waiting: string[] | undefined
  /** The `join` that is not answered yet. */
  private joining: { readonly id: unknown; readonly answered: () => void } | undefined
  private hasJoined = false

  constructor(client: WebSocket, address: string, finder: Finder) {
    this.client = client
    this.address = address
    this.finder = finder
  }

  /** A message of the client. */
  received(text: string): void {
    if (this.waiting !== undefined) {
      this.waiting.push(text)
      if (this.waiting.length > MOST_WAITING)
        this.client.close(CLOSE_TOO_MUCH, 'too many messages before an answer')
      return
    }
    if (this.hasJoined) this.upstream?.send(text)
    else void this.route(text)
  }

  /** The client is gone. */
  closed(): void {
    this.joining?.answered()
    this.upstream?.terminate()
  }

  /** A worker has died: whose match was there comes back by itself. */
  lost(worker: WorkerProcess): void {
    if (this.worker === worker) this.client.close(CLOSE_GOING, 'the venue closes')
  }

  private async route(text: string): Promise<void> {
    this.waiting = []
    const message = read(text)
    if (message.method === 'join') await this.join(text, message)
    else if (await this.reach(this.worker ?? this.finder.present[0])) this.upstream?.send(text)
    else this.notNow(message.id)
    const held = this.waiting
    this.waiting = undefined
    for (const each of held) this.received(each)
  }

  private join(text: string, { id, params = {} }: Message): Promise<void> {
    const { match, mode, admission } = Object(params) as WantedMatch & { readonly admission?: unknown }
    return this.finder.forJoin({ match: match ?? matchIn(admission), mode }, async (worker) => {
      // The match may be one of a worker that comes back: the client tries again for a while.
      if (worker === 'missing' || !(await this.reach(worker ?? this.finder.present[0])))
        return this.notNow(id)
      const answered = new Promise<void>((resolve) => {
        this.joining = { id, answered: resolve }
      })
      this.upstream?.send(text)
      await answered
    })
  }

  private notNow(id: unknown): void {
    this.client.send(errorText(typeof id === 'string' || typeof id === 'number' ? id : null, 'not-now', {}))
  }

  /** Connects to a worker. Returns false if it is not there. */
  private reach(worker: WorkerProcess | undefined): Promise<boolean> {
    if (worker?.port === undefined) return Promise.resolve(false)
    if (this.worker === worker && this.upstream?.readyState === WebSocket.OPEN) return Promise.resolve(true)
    this.upstream
      ?.removeAllListeners()
      .on('error', () => {})
      .terminate()
    this.worker = worker
    const upstream = new WebSocket(`ws://127.0.0.1:${worker.port}/socket`, {
      headers: { 'x-forwarded-for': this.address },
    })
    this.upstream = upstream
    upstream.on('message', (data) => this.passOn(String(data)))
    upstream.on('error', () => {})
    return new Promise((resolve) => {
      let wasOpen = false
      upstream.once('open', () => {
        wasOpen = true
        resolve(true)
      })
      upstream.once('close', (code, reason) => {
        resolve(false)
        if (!wasOpen) return // whoever asked for it knows
        this.joining?.answered()
        this.client.close(...closingOf(code, reason))
      })
    })
  }

  private passOn(text: string): void {
    const { client, upstream, joining } = this
    if (joining !== undefined) {
      const { id, result, error } = read(text)
      if (id === joining.id && (result !== undefined || error !== undefined)) {
        this.joining = undefined
        this.hasJoined = result !== undefined
        joining.answered()
      }
    }
    if (client.readyState !== WebSocket.OPEN) return
    client.send(text, () => {
      if (upstream?.isPaused === true && client.bufferedAmount < LITTLE) upstream.resume()
    })
    if (client.bufferedAmount > MUCH) upstream?.pause()
  }
}

/** The match that a token is for. Whether the token is valid, the worker finds out. */
function matchIn(admission: unknown): unknown {
  const [, payload = ''] = String(admission ?? '').split('.')
  return Object(read(Buffer.from(payload, 'base64url').toString())).match
}

/** What the front needs to know of a message. What is none says nothing; the worker says what is wrong with it. */
function read(text: string): Message {
  try {
    return Object(JSON.parse(text)) as Message
  } catch {
    return {}
  }
}
