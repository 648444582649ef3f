import type { RulebookDescription } from 'zinc-referee'
import { type BareView, type Notice, type Operation, Replica } from 'zinc-referee/replica'
import { VenueError } from '../errors.ts'

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
  /** Called after every change. */
  readonly changed: () => void
  /** Called once, when the connection has ended. */
  readonly ended: (why: string) => void
  /** A clock in ms that never goes back. */
  readonly clock?: () => number
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
/** One client's copy of a match. */
export interface ClientMatch<V extends BareView, N extends Notice = Notice> {
  /** Its id at the venue. */
  readonly id: string
  /** The view, kept current, with the server's clocks. */
  readonly replica: Replica<V, N>
  /** The rulebook as data. */
  readonly rulebook: RulebookDescription
  /** The client's seat; null for a spectator. */
  readonly seat: string | null
  /** The secret to keep for the next visit; undefined for a spectator. */
  readonly player: string | undefined
  /** Returns the client's own clock, in ms. */
  clock(): number
  /** Sends an action and returns its ruling. */
  act(
    action: string,
    input?: object,
    how?: { readonly life?: number; readonly turn?: number },
  ): Promise<{ readonly ok: true } | Refused>
  /** The inputs with which an action would be accepted now, for actions whose options are not in the view. */
  options(action: string, part?: object): Promise<readonly object[]>
  /** Closes the connection. The seat is then absent. */
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
  /** Updates that arrived right behind the answer to `join`. */
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
