import type { ActionOptions, AnyMatch, InitialView, Ruling, Seat, Update } from 'zinc-referee'
import { LateView } from 'zinc-referee/replica'
import { processClock, type VenueClock } from './clock.ts'

/** The viewer whose view late spectators share. */
const LATE = 'spectator-late'

/** Why a client gets no more updates of a match. */
export type Ended = 'match-ended' | 'venue-closed'

/** Receives one viewer's updates. */
export type Listener = (update: Update) => void

/**
 * A match that runs in real time. It wakes when a timer is due and never ticks, so an idle match costs nothing. It
 * sends one update for everything that happened in one turn of the event loop.
 */
export class HostedMatch {
  /** The id by which clients join it. */
  readonly id: string
  /** The match. */
  readonly match: AnyMatch
  /** Every id that a seat of this match has had. */
  readonly seatIds: Set<Seat> = new Set()
  /** Listeners that are called when the match has closed, after the last updates. */
  readonly ends: Set<(why: Ended) => void> = new Set()
  private readonly clock: VenueClock
  private readonly began: number
  private readonly listeners: Map<string, Set<Listener>> = new Map()
  private callOff: () => void = () => {}
  private isClosed = false
  private flushing: NodeJS.Immediate | undefined
  private readonly late: LateView<Update> | undefined
  private readonly lateListeners: Set<Listener> = new Set()

  /** `delay`: ms by which spectators see it late. `clock`: the clock that it runs on. Default: this process's clock. */
  constructor(id: string, match: AnyMatch, delay = 0, clock: VenueClock = processClock) {
    this.id = id
    this.match = match
    this.clock = clock
    this.began = clock.now()
    this.late = delay === 0 ? undefined : new LateView(match.addViewer(LATE), delay)
  }

  /** Returns the match time, in ms. */
  now(): number {
    return Math.max(this.match.now, Math.floor(this.clock.now() - this.began))
  }

  /** Advances the match to now, calls `act` with it, and sends the changes. */
  run<R>(act: (match: AnyMatch) => R): R {
    if (this.isClosed) return act(this.match)
    this.match.advanceTo(this.now())
    try {
      return act(this.match)
    } finally {
      this.flushSoon()
      this.sleep()
    }
  }

  /** Submits an action and sends the changes. */
  submit(seat: Seat, action: string, input: unknown, how: ActionOptions): Ruling {
    return this.run((match) => match.submit(seat, action, input, how))
  }

  /** Adds a listener for a viewer. Returns its whole view; the listener gets every update after it. */
  open(viewer: string, listener: Listener): InitialView {
    return this.run((match) => {
      this.flush() // so that the newcomer is not told again what its view contains
      const opening = match.addViewer(viewer)
      const others = this.listeners.get(viewer) ?? new Set()
      this.listeners.set(viewer, others.add(listener))
      return opening
    })
  }

  /** Adds a spectator. It sees the match with the delay of this match, if it has one. */
  watch(viewer: string, listener: Listener): InitialView {
    if (this.late === undefined) return this.open(viewer, listener)
    this.run(() => undefined)
    this.flush()
    this.lateListeners.add(listener)
    return this.late.open(this.now())
  }

  /** Removes a listener, and the viewer with its last listener. */
  shut(viewer: string, listener: Listener): void {
    if (this.lateListeners.delete(listener)) return
    const others = this.listeners.get(viewer)
    others?.delete(listener)
    if (others?.size !== 0) return
    this.listeners.delete(viewer)
    if (!this.isClosed) this.match.removeViewer(viewer)
  }

  /** True if somebody views as this viewer. */
  isViewed(viewer: string): boolean {
    return this.listeners.has(viewer)
  }

  /** Ends the match: sends what is left, closes its record, and calls the listeners in `ends`. */
  close(why: Ended = 'match-ended'): void {
    if (this.isClosed) return
    this.isClosed = true
    this.callOff()
    clearImmediate(this.flushing)
    this.match.advanceTo(this.now())
    this.flush(true)
    this.match.close()
    for (const update of this.late?.rest() ?? []) this.tellLate({ viewer: LATE, ...update })
    for (const end of [...this.ends]) end(why)
    this.ends.clear()
    this.listeners.clear()
    this.lateListeners.clear()
  }

  private flushSoon(): void {
    this.flushing ??= setImmediate(() => this.flush())
  }

  private flush(all = false): void {
    clearImmediate(this.flushing)
    this.flushing = undefined
    for (const update of this.match.flush({ all })) {
      if (update.viewer === LATE) this.late?.receive(update)
      for (const listener of this.listeners.get(update.viewer) ?? []) listener(update)
    }
    for (const update of this.late?.due(this.now()) ?? []) this.tellLate({ viewer: LATE, ...update })
    if (!all && (this.match.nextFlush ?? this.late?.nextDue) !== undefined) this.sleep()
  }

  private tellLate(update: Update): void {
    for (const listener of this.lateListeners) listener(update)
  }

  private sleep(): void {
    this.callOff()
    if (this.isClosed) return
    const { nextDue, nextFlush } = this.match
    const due = Math.min(
      ...[nextDue, nextFlush, this.late?.nextDue].map((at) => at ?? Number.POSITIVE_INFINITY),
    )
    if (due === Number.POSITIVE_INFINITY) return
    this.callOff = this.clock.wakeAfter(due - this.now(), () => this.run(() => undefined))
  }
}
