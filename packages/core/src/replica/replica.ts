import type { Notice } from '../sight/index.ts'
import { type ClockName, type ClockStyle, formatRemaining } from '../time/index.ts'
import { type Latest, replacementsOf } from './latest.ts'
import { applyPatch, type Operation } from './patch.ts'

/** A view as far as every mode has it. */
export interface BareView {
  /** The four clocks of the match. */
  readonly clocks: { readonly [C in ClockName]: { readonly at: number; readonly runs: boolean } }
}
/** What a client gets when it begins, and with each update. */
export interface Incoming<N extends Notice = Notice> {
  /** Match time at which the server sent it, ms. */
  readonly at: number
  /** The patch of an update, parsed. */
  readonly patch?: readonly Operation[]
  /** The latest numbers of an update, parsed. */
  readonly latest?: Latest
  /** What happened. */
  readonly notices?: readonly N[]
}

/** A notice that a client shows, with an id: the same after a reconnect, and different from those of all others. */
export type StandingNotice<N extends Notice = Notice> = N & { readonly id: string }

/** For this long (in ms of the client's clock) the least delayed update counts, and for as long again. */
const STRETCH = 10_000
/** For this long (in ms of the client's clock) the quickest round trip counts. */
const MINUTE = 60_000

/**
 * A client's copy of its view, kept up to date by updates alone. It computes the server's match time from the
 * client's own clock (any clock in ms that never goes back). It reads no clock itself: you pass the time.
 */
export class Replica<V extends BareView = BareView, N extends Notice = Notice> {
  /** The view as it is now. */
  view: V
  private notices: readonly StandingNotice<N>[] = []
  /**
   * The server's match time minus the client's clock. The larger of two windows' values belongs to the least delayed
   * update. A server whose time has stood still stays behind, so older values stop counting.
   */
  private offset: number
  private offsetBefore: number
  private stretchEnds: number
  private measured:
    | { readonly roundTrip: number; readonly offset: number; readonly until: number }
    | undefined

  constructor(
    opening: { readonly view: V; readonly at: number; readonly notices?: readonly N[] },
    clientNow: number,
  ) {
    this.view = opening.view
    this.add(opening.notices ?? [])
    this.offset = opening.at - clientNow
    this.offsetBefore = this.offset
    this.stretchEnds = clientNow + STRETCH
  }

  /** @throws ZR_REPLICA_BAD_PATCH */
  update({ at, patch = [], latest = {}, notices = [] }: Incoming<N>, clientNow: number): void {
    this.view = applyPatch(this.view, [...patch, ...replacementsOf(latest)])
    if (clientNow >= this.stretchEnds) {
      this.offsetBefore = this.offset
      this.offset = at - clientNow
      this.stretchEnds = clientNow + STRETCH
    } else this.offset = Math.max(this.offset, at - clientNow)
    this.dropExpired(at)
    this.add(notices)
  }

  /**
   * Takes the server's match time `at` from the answer to a call, with the client's clock when it was sent and when the
   * answer came, in ms. The quickest round trip of the last minute counts, and half of it is taken for the way back.
   */
  measure({
    at,
    sent,
    received,
  }: {
    readonly at: number
    readonly sent: number
    readonly received: number
  }): void {
    const roundTrip = received - sent
    if (this.measured !== undefined && roundTrip > this.measured.roundTrip && received < this.measured.until)
      return
    this.measured = { roundTrip, offset: at + roundTrip / 2 - received, until: received + MINUTE }
  }

  /** Match time on the server, ms: by round trips if there were any, else as late as the quickest update was. */
  now(clientNow: number): number {
    return Math.round(clientNow + (this.measured?.offset ?? Math.max(this.offset, this.offsetBefore)))
  }

  /** What a clock of the match reads, ms. */
  reading(clock: ClockName, clientNow: number): number {
    const { at, runs } = this.view.clocks[clock]
    return runs ? this.now(clientNow) - at : at
  }

  /** Returns what remains until a due on a clock, in ms, never negative. */
  remaining(due: number, clock: ClockName, clientNow: number): number {
    return Math.max(0, due - this.reading(clock, clientNow))
  }

  /** Returns the same as clock text, such as "0:03". */
  formatRemaining(due: number, clock: ClockName, clientNow: number, style?: ClockStyle): string {
    return formatRemaining(this.remaining(due, clock, clientNow), style)
  }

  /** Returns the notices that have not expired, oldest first. Expired ones are forgotten. */
  standing(clientNow: number): readonly StandingNotice<N>[] {
    this.dropExpired(this.now(clientNow))
    return this.notices
  }

  /** An id is made of what the viewer was sent: a notice's name, its time, and how many like it came before. */
  private add(notices: readonly N[]): void {
    for (const notice of notices) {
      const { name, at } = notice
      const all = this.notices
      let [number, last] = [1, all.length]
      // They are in the order of their times: those of the same time are the last ones.
      while (all[--last]?.at === at) if (all[last]?.name === name) number++
      // The id first: a key after a spread gives each object a hidden class of its own, and reads grow ten times slower.
      this.notices = [...all, { id: `${name} ${at} ${number}`, ...notice }]
    }
  }

  private dropExpired(now: number): void {
    const standing = this.notices.filter(({ until }) => until > now)
    if (standing.length < this.notices.length) this.notices = standing
  }
}
