import { type Elsewhere, noConnection, refusedBy } from './errors.ts'

/** A WebSocket as browsers and Node from 22 on have it, or the class of `ws`. */
export interface SocketClass {
  new (url: string): BareSocket
}
/** What a client uses of a WebSocket. Its events are those of WebSocket, whatever class they are of. */
export interface BareSocket {
  /** 1 while it is open, as with WebSocket. */
  readonly readyState: number
  onopen: ((event: never) => void) | null
  onmessage: ((event: never) => void) | null
  onerror: ((event: never) => void) | null
  onclose: ((event: never) => void) | null
  /** Sends a message to the venue. */
  send(text: string): void
  /** Ends it from this side. */
  close(): void
}

/** A message of the venue that answers nothing. */
export interface Heard {
  readonly method: string
  readonly params: unknown
}
interface Answer {
  readonly id?: number
  readonly method?: string
  readonly params?: unknown
  readonly result?: unknown
  readonly error?: {
    readonly message: string
    readonly data?: Partial<Elsewhere> & { readonly says?: string; readonly problem?: string }
  }
}
interface Waiting {
  resolve(value: unknown): void
  reject(error: Error): void
}
const OPEN = 1

/** One connection to a venue: calls and their answers, and what the venue sends by itself. */
export class Line {
  private readonly socket: BareSocket
  private readonly waiting: Map<number, Waiting> = new Map()
  private readonly ended: (why: string, code: number | undefined) => void
  private next = 1

  constructor(
    Socket: SocketClass,
    url: string,
    on: {
      readonly open: () => void
      readonly heard: (message: Heard) => void
      readonly closed: (why: string, code: number | undefined) => void
    },
  ) {
    this.socket = new Socket(url)
    this.socket.onopen = on.open
    this.socket.onmessage = ({ data }: { readonly data: unknown }) => {
      const answer = JSON.parse(String(data)) as Answer
      if (answer.method !== undefined) on.heard({ method: answer.method, params: answer.params })
      else this.settle(answer)
    }
    this.socket.onerror = () => {} // it closes right after, which says why
    this.ended = (why, code) => {
      for (const { reject } of this.waiting.values()) reject(noConnection(why))
      this.waiting.clear()
      on.closed(why, code)
    }
    this.socket.onclose = ({ code, reason }: { readonly code?: number; readonly reason: string }) =>
      this.ended(reason || 'the connection was lost', code)
  }

  /**
   * Calls a method of the venue.
   * @throws ZR_VENUE_CONNECTION if the connection is lost before it is answered, ZR_VENUE_REFUSED with what the venue says
   */
  ask(method: string, params: object): Promise<unknown> {
    return new Promise((resolve, reject) => {
      if (this.socket.readyState !== OPEN) {
        reject(noConnection())
        return
      }
      const id = this.next++
      this.waiting.set(id, { resolve, reject })
      this.socket.send(JSON.stringify({ jsonrpc: '2.0', id, method, params }))
    })
  }

  close(): void {
    this.socket.close()
  }

  /** Ends it now. A socket whose machine is gone takes minutes to notice, and would not close before. */
  drop(): void {
    this.socket.onopen = null
    this.socket.onmessage = null
    this.socket.onclose = null
    this.socket.close()
    this.ended('it does not answer', undefined)
  }

  /** An answer without an id is to nothing that was asked. */
  private settle({ id = 0, result, error }: Answer): void {
    const asked = this.waiting.get(id)
    this.waiting.delete(id)
    if (error === undefined) asked?.resolve(result)
    else {
      const { says = error.message, problem, url, match = '' } = error.data ?? {}
      asked?.reject(refusedBy(says, url === undefined ? problem : { match, url }))
    }
  }
}
