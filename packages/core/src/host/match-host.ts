import { SERVER, type Seat } from '../cells/index.ts'
import type { ServerEvent } from '../engine/index.ts'
import type { ActionOptions } from '../inputs/index.ts'
import { LateView } from '../replica/index.ts'
import type { Ruling } from '../rule/index.ts'
import { type AnyMatch, insideOf } from '../rulebook/index.ts'
import type { InitialView, Update } from '../views/index.ts'
import type { HostClock } from './clock.ts'
import type { Beat, HostOptions, Listener } from './host-options.ts'

/** The viewer whose view late spectators share. */
const LATE = 'spectator-late'

/**
 * Runs a match in real time, without a transport: in a process, or in a page alone. It wakes when a timer is due and
 * never ticks, so an idle match costs nothing. It sends one update for everything that happened in one turn of the event
 * loop. The guide's page on going live has a clock for it, of five lines.
 *
 * @example
 * ```ts
 * const host = new MatchHost(match, { clock })
 * const { view } = host.open('otter', ({ patch, notices }) => send(patch, notices))
 * host.submit('otter', 'pond.hook', {}, {})
 * ```
 */
export class MatchHost {
  /** The match. */
  readonly match: AnyMatch
  /** Called when the match has closed, after the last updates, with the reason. */
  readonly ends: Set<(why: string) => void> = new Set()
  private readonly clock: HostClock
  private readonly options: HostOptions
  /** The clock's time at which the match time was 0, as far as it has not been paused. */
  private began: number
  /** The match time at which it was paused. */
  private pausedAt: number | undefined
  /** By viewer, who gets its updates, and after which flush. */
  private readonly listeners: Map<string, Map<Listener, number>> = new Map()
  private flushes = 0
  private callOff: () => void = () => {}
  private cancelFlush: (() => void) | undefined
  private hasClosed = false
  private orders: ServerEvent[] = []
  /** The match times of the first beat and of the last one. */
  private readonly firstBeat: number
  private lastBeat: number
  private callOffBeat: () => void = () => {}
  private readonly late: LateView<Update> | undefined
  private readonly lateListeners: Set<Listener> = new Set()

  /** A match that was resumed goes on at its own time: what has passed meanwhile does not count. */
  constructor(match: AnyMatch, options: HostOptions) {
    const { clock, spectatorDelay = 0 } = options
    this.match = match
    this.clock = clock
    this.options = options
    this.began = clock.now() - match.now
    this.late = spectatorDelay === 0 ? undefined : new LateView(match.addViewer(LATE), spectatorDelay)
    this.sleep()
    this.firstBeat = this.lastBeat = match.now
    if (options.beat !== undefined) {
      this.open(SERVER, ({ events = [] }) => this.orders.push(...events))
      this.awaitBeat(options.beat)
    }
  }

  /** Returns the match time, in ms. */
  now(): number {
    return this.pausedAt ?? Math.max(this.match.now, Math.floor(this.clock.now() - this.began))
  }

  /** True from `pause` until `resume`. */
  get isPaused(): boolean {
    return this.pausedAt !== undefined
  }

  /** Stops the time of the match: nothing comes due. Players are not told; for that there is `phases.pause`. */
  pause(): void {
    if (this.hasClosed || this.isPaused) return
    this.run(() => undefined)
    this.pausedAt = this.now()
    this.callOff()
    this.callOffBeat()
  }

  /** Lets time go on from where it was paused. */
  resume(): void {
    if (this.pausedAt === undefined) return
    this.began = this.clock.now() - this.pausedAt
    this.pausedAt = undefined
    this.run(() => undefined)
    if (this.options.beat !== undefined) this.awaitBeat(this.options.beat)
  }

  /** Advances the match to now, calls `act` with it, and sends the changes. */
  run<R>(act: (match: AnyMatch) => R): R {
    if (this.hasClosed) return act(this.match)
    const { budget = 50, onSlow } = this.options
    const before = this.clock.now()
    this.advance()
    try {
      return act(this.match)
    } finally {
      if (this.options.beat === undefined) this.cancelFlush ??= this.clock.wakeAfter(0, () => this.flush())
      this.sleep()
      const took = this.clock.now() - before
      if (took > budget) onSlow?.(took)
    }
  }

  /** Lets the time pass that has passed by the clock: what has come due happens. */
  protected advance(): void {
    this.match.advanceTo(this.now())
  }

  /** Submits an action and sends the changes. The ruling is safe to send once `whenSafe` says so. */
  submit(seat: Seat, action: string, input: unknown, how: ActionOptions): Ruling {
    return this.run((match) => match.submit(seat, action, input, how))
  }

  /** Calls `send` once all that the match has recorded so far is safe. */
  whenSafe(send: () => void): void {
    const { whenSafe } = this.options
    const call = (): void => this.call('when safe', send)
    if (whenSafe === undefined) call()
    else whenSafe(call)
  }

  /** Calls code of the host. What throws in it is a fault of this match, of no other, and keeps nothing else from happening. */
  protected call(what: string, body: () => void): void {
    const engine = insideOf(this.match)?.engine
    if (engine === undefined) body()
    else engine.play('host', `host ${what}`, body)
  }

  /** Adds a listener for a viewer. Returns its whole view; the listener gets every update after it. */
  open(viewer: string, listener: Listener): InitialView {
    return this.run((match) => {
      this.flush() // so that the newcomer is not sent again what its view contains
      const opening = match.addViewer(viewer)
      // What is still on its way to the viewer's other listeners is in this view already.
      const others = this.listeners.get(viewer) ?? new Map<Listener, number>()
      this.listeners.set(viewer, others.set(listener, this.flushes))
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
    if (!this.hasClosed) this.match.removeViewer(viewer)
  }

  /** True if somebody views as this viewer. */
  isViewed(viewer: string): boolean {
    return this.listeners.has(viewer)
  }

  /** True once it has been closed. */
  get isClosed(): boolean {
    return this.hasClosed
  }

  /** Ends the match: sends what is left, ends its record, and calls the listeners in `ends` with the reason. */
  close(why = 'match-ended'): void {
    if (!this.hasClosed) this.stop(why, true)
  }

  /** Stops without ending the match: its record has no end, and the match can go on from it. */
  suspend(why = 'suspended'): void {
    if (!this.hasClosed) this.stop(why, false)
  }

  /** Stops at once. Nothing leaves any more, and what waits to be safe never does: somebody else goes on with the match. */
  abandon(why = 'moved'): void {
    this.halt()
    this.cancelFlush?.()
    this.finish(why)
  }

  private stop(why: string, isEnd: boolean): void {
    this.advance()
    this.halt()
    this.flush(true)
    if (isEnd) this.match.close()
    const rest = this.late?.rest() ?? []
    this.whenSafe(() => {
      for (const update of rest) this.sendLate({ viewer: LATE, ...update })
      this.finish(why)
    })
  }

  private halt(): void {
    this.hasClosed = true
    this.callOff()
    this.callOffBeat()
  }

  private finish(why: string): void {
    for (const end of [...this.ends]) this.call('end', () => end(why))
    this.ends.clear()
    this.listeners.clear()
    this.lateListeners.clear()
  }

  /** The next beat is on time, however late this one was; those that were missed are not made up for. */
  private awaitBeat(beat: Beat): void {
    const now = this.now()
    const next = this.firstBeat + (Math.floor((now - this.firstBeat) / beat.every) + 1) * beat.every
    this.callOffBeat = this.clock.wakeAfter(next - now, () => this.playBeat(beat))
  }

  private playBeat(beat: Beat): void {
    this.run(() => undefined)
    this.flush() // so that the orders are complete
    const orders = this.orders
    this.orders = []
    const now = this.now()
    const passed = now - this.lastBeat
    this.lastBeat = now
    this.run((match) => {
      const play = (): void => beat.play(match, orders, passed)
      // What throws in it is a fault of this match, and of no other.
      insideOf(match)?.engine.play('beat', 'game beat', play)
    })
    this.flush()
    if (!this.hasClosed && !this.isPaused) this.awaitBeat(beat)
  }

  private flush(all = false): void {
    this.cancelFlush?.()
    this.cancelFlush = undefined
    const updates = this.match.flush({ all })
    const flush = ++this.flushes
    if (updates.length > 0) this.whenSafe(() => this.send(updates, flush))
    const late = this.late?.due(this.now()) ?? []
    for (const update of late) this.sendLate({ viewer: LATE, ...update })
    if (!all && (this.match.nextFlush ?? this.late?.nextDue) !== undefined) this.sleep()
  }

  private send(updates: readonly Update[], flush: number): void {
    for (const update of updates) {
      if (update.viewer === LATE) this.late?.receive(update)
      for (const [listener, opened] of this.listeners.get(update.viewer) ?? [])
        if (flush > opened) this.call('update', () => listener(update))
    }
    if (this.late?.nextDue !== undefined) this.sleep()
  }

  private sendLate(update: Update): void {
    for (const listener of this.lateListeners) this.call('update', () => listener(update))
  }

  private sleep(): void {
    this.callOff()
    if (this.hasClosed || this.isPaused) return
    const { nextDue, nextFlush } = this.match
    const due = Math.min(
      ...[nextDue, nextFlush, this.late?.nextDue].map((at) => at ?? Number.POSITIVE_INFINITY),
    )
    if (due === Number.POSITIVE_INFINITY) return
    this.callOff = this.clock.wakeAfter(Math.max(0, due - this.now()), () => this.run(() => undefined))
  }
}
