import type { RulebookDescription } from 'zinc-referee'
import type { BareView, Notice, Replica } from 'zinc-referee/replica'
import type { Role } from '../roles.ts'
import type { SocketClass } from './line.ts'
import type { SettingFields } from './setting-field.ts'

/** Options of `connect`. */
export interface ConnectOptions {
  /** The address of the socket, such as `ws://127.0.0.1:4600/socket`. */
  readonly url: string
  /** The id of the match. Without it and `mode`: one that has room. */
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
/** The answer to an action. */
export type ActRuling = { readonly ok: true } | Refused

/** How a client stands to its match: it is connected, it tries to be again, or it has ended. */
export type ClientState = 'live' | 'lost' | 'ended'

/** A part of a view, such as `scores.sums`. */
export type PathOf<V> = { [R in keyof V & string]: `${R}.${keyof V[R] & string}` }[keyof V & string]
/** What is at a path. */
export type PartAt<V, P extends string> = P extends `${infer R}.${infer K}`
  ? R extends keyof V
    ? K extends keyof V[R]
      ? V[R][K]
      : never
    : never
  : never

/** Any action, with any input. */
export interface AnyActions {
  readonly [action: string]: object
}

/** A rulebook as data, as a venue describes it. */
export interface Described extends RulebookDescription {
  /** For referees: the settings that may be changed while the match runs. */
  readonly settings?: SettingFields
}

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
  /** What the venue lets it do: a `referee` reports and directs, a `reporter` reports. */
  readonly role: Role
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
  /**
   * Reports what a game server has seen, for reporters and referees. It is sent once: if the connection is lost before the
   * answer, nobody knows whether it was taken.
   * @throws ZR_VENUE_CONNECTION if it is lost, ZR_VENUE_REFUSED for another role
   */
  report(fact: string, input?: object): Promise<ActRuling>
  /** Directs the match, for referees; for the organiser, what leads a match. It is sent once, as `report` is. @throws as `report` does */
  direct(directive: string, input?: object): Promise<ActRuling>
  /** Asks for the rulebook as data. It is asked for once. */
  describe(): Promise<Described>
  /** Closes the connection. The seat is then absent. */
  leave(): void
}

/** What `connect` returns: a match as its rulebook has it, with its actions typed. */
export interface Client<V extends BareView, N extends Notice = Notice, A = AnyActions>
  extends Omit<ClientMatch<V, N>, 'act'> {
  /** The view as it is shown: the replica's, with the guesses that have no ruling yet. */
  readonly view: V
  /**
   * Calls `handler` with a part of the view, at once and whenever it has changed. Returns what ends that.
   */
  on<P extends PathOf<V>>(path: P, handler: (part: PartAt<V, P>) => void): () => void
  /** Calls `handler` with each notice, once, also after a reconnect. Returns what ends that. */
  onNotice(handler: (notice: N) => void): () => void
  act<K extends keyof A & string>(
    action: K,
    input?: A[K],
    how?: {
      readonly life?: number
      readonly turn?: number
      /** Returns the view as the action will probably make it. It is shown until the ruling is there, then taken back. */
      guess?(view: V): V
    },
  ): Promise<ActRuling>
}
