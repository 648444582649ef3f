import type { RulebookDescription } from 'zinc-referee'
import { type BareView, type Notice, type Operation, Replica } from 'zinc-referee/replica'
import { VenueError } from '../errors.ts'

/** How to enter a match. */
export interface ConnectOptions {
  /** The address of the socket, such as `ws://127.0.0.1:4600/socket`. */
  readonly url: string
  /** The id of the match. */
  readonly match?: string
  /** What the player is called. */
  readonly name?: string
  /** The secret of an earlier visit: it gives the same seat again. */
  readonly player?: string
  /** To see without a seat. */
  readonly watch?: string
  /** Called after every change. */
  readonly changed: () => void
  /** Called once, when the connection has ended. */
  readonly ended: (why: string) => void
  /** A clock of ms that never goes back. */
  readonly clock?: () => number
}
/** Why something was refused. */
export interface Refused {
  /** Tells it from an action that was allowed. */
  readonly ok: false
  /** Why it was refused. */
  readonly code: string
  /** The same in a sentence for the player. */
  readonly says: string
}
/** A match as one client has it. */
export interface ClientMatch<V extends BareView, N extends Notice = Notice> {
  /** Its id at the venue. */
  readonly id: string
  /** The view, kept current, with the server's clocks. */
  readonly replica: Replica<V, N>
  /** The rulebook as data. */
  readonly rulebook: RulebookDescription
  /** The seat that was given; nothing for who only watches. */
  readonly seat: string | null
  /** To be kept for the next visit; nothing for one who watches. */
  readonly player: string | undefined
  /** The client's own clock, ms. */
  clock(): number
  /** Sends an action and returns its ruling. */
  act(
    action: string,
    input?: object,
    how?: { readonly life?: number; readonly turn?: number },
  ): Promise<{ readonly ok: true } | Refused>
  /** The inputs with which an action would be accepted now, for actions whose options are not in the view. */
  options(action: string, part?: object): Promise<readonly object[]>
  /** Closes the connection. The seat is absent then. */
  leave(): void
}

interface Reply<N extends Notice> {
  readonly id?: number
  readonly method?: string
  readonly params?: {
    readonly at: number
    readonly patch?: readonly Operation[]
    readonly why?: string
  } & N
  readonly result?: unknown
  readonly error?: {
    readonly message: string
    readonly data?: { readonly says?: string; readonly problem?: string }
  }
}
/** What the venue answers to `join`. */
interface Joined<V, N extends Notice> {
  readonly view: V
  readonly at: number
  readonly notices: readonly N[]
  readonly rulebook: RulebookDescription
  readonly match: string
  readonly seat: string | null
  readonly player?: string
}
interface Waiting {
  resolve(value: unknown): void
  reject(error: Error): void
}

/** Enters a match; rejects where the venue refuses or cannot be reached. */
export function connect<V extends BareView, N extends Notice = Notice>(
  options: ConnectOptions,
): Promise<ClientMatch<V, N>> {
  const clock = options.clock ?? (() => performance.now())
  const socket = new WebSocket(options.url)
  const waiting = new Map<number, Waiting>()
  let replica: Replica<V, N> | undefined
  /** What came right behind the answer to `join`, before it was taken up. */
  let early: Reply<N>[] = []
  let next = 1

  const ask = (method: string, params: object): Promise<unknown> =>
    new Promise((resolve, reject) => {
      if (socket.readyState !== WebSocket.OPEN) {
        reject(new VenueError('ZR_VENUE_CONNECTION', { why: 'the connection was lost' }))
        return
      }
      const id = next++
      waiting.set(id, { resolve, reject })
      socket.send(JSON.stringify({ jsonrpc: '2.0', id, method, params }))
    })

  const hear = (reply: Reply<N>): void => {
    const { id, method, params, result, error } = reply
    if (params !== undefined && (method === 'view' || method === 'notice')) {
      if (replica === undefined) early.push(reply)
      else if (method === 'view') replica.update({ at: params.at, patch: params.patch ?? [] }, clock())
      else replica.update({ at: params.at, notices: [params] }, clock())
    } else if (id !== undefined) {
      const asked = waiting.get(id)
      waiting.delete(id)
      if (error !== undefined)
        asked?.reject(new VenueError('ZR_VENUE_REFUSED', { says: error.data?.says ?? error.message }))
      else asked?.resolve(result)
    }
    if (replica !== undefined) options.changed()
  }

  return new Promise((resolve, reject) => {
    socket.onmessage = ({ data }) => hear(JSON.parse(String(data)) as Reply<N>)
    socket.onclose = ({ reason }) => {
      const why = reason || 'the connection was lost'
      const error = new VenueError('ZR_VENUE_CONNECTION', { why })
      for (const { reject: give } of waiting.values()) give(error)
      reject(error)
      options.ended(why)
    }
    socket.onopen = async () => {
      const { match, name, player, watch } = options
      try {
        const joined = (await ask('join', { match, name, player, watch })) as Joined<V, N>
        replica = new Replica(joined, clock())
        for (const reply of early) hear(reply)
        early = []
        resolve({
          replica,
          clock,
          id: joined.match,
          rulebook: joined.rulebook,
          seat: joined.seat,
          player: joined.player,
          act: (action, input = {}, how = {}) =>
            ask('act', { action, input, id: `${crypto.randomUUID()}`, ...how }) as Promise<
              { readonly ok: true } | Refused
            >,
          options: (action, part = {}) => ask('options', { action, part }) as Promise<readonly object[]>,
          leave: () => socket.close(),
        })
      } catch (error) {
        reject(error instanceof Error ? error : new Error(String(error)))
        socket.close()
      }
    }
  })
}
