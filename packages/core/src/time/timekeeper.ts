import { type ClockName, clockNames, RefereeError } from '../kit/index.ts'
import type { Store } from '../rows/index.ts'
import { type Band, Timer, TimerHeap, type TimerKind } from './heap.ts'

const bands: Readonly<Record<Band, number>> = { lapse: 1, inner: 2, outer: 3, effect: 4 }
const BAND = 2 ** 48

interface Clock {
  /** Running: the match time at which it read zero. Held: its reading. */
  at: number
  runs: boolean
  readonly heap: TimerHeap
}
/** A running timer as a snapshot has it. */
export interface SavedTimer {
  /** Such as `respawn.back`: numbers may be others in another version of the rulebook. */
  readonly timer: string
  readonly key: string
  readonly due: number
  readonly sequence: number
  readonly every?: number | undefined
}

/** Clocks and timers as a snapshot has them. */
export interface SavedTime {
  readonly now: number
  readonly started: number
  readonly clocks: readonly { readonly at: number; readonly runs: boolean }[]
  readonly timers: readonly SavedTimer[]
}

/** A change of a timer or a clock as JSON: the timer as it was before, or nothing if it was not running. */
export type TimeChange =
  | readonly ['timer', timer: string, key: string, before: SavedTimer | null]
  | readonly ['clock', name: ClockName, runs: boolean]

/** The state before a change: a timer that was started, stopped or moved, or a clock that was stopped or started. */
export type TimeBefore =
  | { readonly started: Timer }
  | { readonly stopped: Timer }
  | { readonly moved: Timer; readonly due: number }
  | { readonly clock: ClockName; readonly at: number }

const saved = ({ kind: { whole }, key, due, sequence, every }: Timer): SavedTimer => ({
  timer: whole,
  key,
  due,
  sequence,
  every,
})

/** The four clocks of a match and the timers on them. Every change can be taken back. */
export class Timekeeper {
  /** Ms since the match began. */
  now = 0
  private readonly store: Store
  private readonly clocks: Readonly<Record<ClockName, Clock>>
  private readonly kinds: readonly TimerKind[]
  /** By slot and key. */
  private readonly bySlot: (Map<string, Timer> | undefined)[]
  private readonly inOrder: readonly Clock[]
  /** The timer that is due first, kept until a timer or a clock changes; null when none runs. */
  private first: Timer | null | undefined
  private firstDue = 0
  private started = 0
  /** The link of the timer that fires now; see {@link Timer.link}. */
  link = 0
  /** Age of the fact that is being handled, in ms. */
  late = 0

  constructor(store: Store, kinds: readonly TimerKind[]) {
    this.store = store
    this.kinds = kinds
    this.bySlot = kinds.map(() => undefined)
    const clock = (runs: boolean): Clock => ({ at: 0, runs, heap: new TimerHeap() })
    this.clocks = { match: clock(true), phase: clock(true), play: clock(false), turn: clock(false) }
    this.inOrder = clockNames.map((name) => this.clocks[name])
  }

  /** Returns the time of a clock, in ms. */
  read(name: ClockName): number {
    const clock = this.clocks[name]
    return clock.runs ? this.now - clock.at : clock.at
  }

  runs(name: ClockName): boolean {
    return this.clocks[name].runs
  }

  state(name: ClockName): { readonly at: number; readonly runs: boolean } {
    const { at, runs } = this.clocks[name]
    return { at, runs }
  }

  /** Holds a clock or lets it run on; its timers keep what remains of them. */
  set(name: ClockName, runs: boolean): void {
    const clock = this.clocks[name]
    if (clock.runs === runs) return
    this.first = undefined
    this.store.undo.noteOf(this, { clock: name, at: clock.at })
    clock.at = this.now - clock.at
    clock.runs = runs
  }

  /** The due and the period are in the time of the timer's clock, ms. */
  start(kind: TimerKind, key: string, due: number, every: number | undefined): void {
    const former = this.bySlot[kind.slot]?.get(key)
    if (former !== undefined) this.stop(former)
    const link = due <= this.read(kind.clock) ? this.link + 1 : 0
    const timer = new Timer(kind, key, due, bands[kind.band] * BAND + this.started, every, link)
    this.store.undo.noteOf(this, { started: timer })
    this.started++
    this.put(timer)
  }

  find(kind: TimerKind, key: string): Timer | undefined {
    return this.bySlot[kind.slot]?.get(key)
  }

  /** All that run of one kind, in the order of starting. */
  running(slot: number): readonly Timer[] {
    return [...(this.bySlot[slot]?.values() ?? [])]
  }

  stop(timer: Timer): void {
    this.store.undo.noteOf(this, { stopped: timer })
    this.take(timer)
  }

  /** Keeps its place in the order of starting. */
  move(timer: Timer, due: number): void {
    this.first = undefined
    this.store.undo.noteOf(this, { moved: timer, due: timer.due })
    timer.due = due
    this.clocks[timer.kind.clock].heap.moved(timer)
  }

  stopWhere(matches: (timer: Timer) => boolean): void {
    for (const timer of this.all()) if (matches(timer)) this.stop(timer)
  }

  /** Returns the match time when the first timer on a running clock is due, or infinity. */
  nextDueTime(): number {
    return this.first === undefined ? this.lookAgain() : this.firstDue
  }

  /** Returns that timer. */
  next(): Timer | undefined {
    if (this.first === undefined) this.lookAgain()
    return this.first ?? undefined
  }

  private lookAgain(): number {
    this.first = null
    this.firstDue = Number.POSITIVE_INFINITY
    for (const clock of this.inOrder) {
      const timer = clock.heap.first()
      if (timer !== undefined) this.consider(timer, clock)
    }
    return this.firstDue
  }

  /** Makes this timer the first if it is due before the one that is known. */
  private consider(timer: Timer, clock: Clock): void {
    if (!clock.runs) return
    const due = Math.max(timer.due + clock.at, this.now)
    const { first, firstDue } = this
    if (due > firstDue || (due === firstDue && first && first.sequence < timer.sequence)) return
    this.first = timer
    this.firstDue = due
  }

  /**
   * Takes a due timer off for good. A repeating timer is armed again at its due time plus its period, so that it
   * never drifts.
   */
  consume(timer: Timer): void {
    if (timer.every === undefined) this.take(timer)
    else {
      this.first = undefined
      timer.due += timer.every
      this.clocks[timer.kind.clock].heap.moved(timer)
    }
  }

  /** Every timer and clock as texts for the hash. */
  texts(): string[] {
    const timers = this.all().map(
      ({ kind: { whole, clock }, key, due, sequence, every }) =>
        `timer ${whole}:${key} ${clock} ${due} ${sequence} ${every}`,
    )
    return [...timers, `clocks ${JSON.stringify(clockNames.map((name) => this.state(name)))} ${this.started}`]
  }

  save(): SavedTime {
    return {
      now: this.now,
      started: this.started,
      clocks: clockNames.map((name) => this.state(name)),
      timers: this.all().map(saved),
    }
  }

  /** Loads a snapshot. The timekeeper must not have run yet. */
  load({ now, started, clocks, timers }: SavedTime): void {
    this.now = now
    this.started = started
    for (const [at, clock] of clocks.entries())
      Object.assign(this.inOrder[at] ?? {}, { at: clock.at, runs: clock.runs })
    for (const { timer, key, due, sequence, every } of timers) {
      const kind = this.kinds.find(({ whole }) => whole === timer)
      if (kind === undefined)
        throw new RefereeError('ZR_SNAPSHOT_DAMAGED', { why: `there is no timer '${timer}'` })
      this.put(new Timer(kind, key, due, sequence, every, 0))
    }
  }

  /** Returns a change as JSON, for `revert` to restore long after the step is over. */
  changed(before: TimeBefore): TimeChange {
    if ('clock' in before) return ['clock', before.clock, !this.clocks[before.clock].runs]
    if ('started' in before) return ['timer', before.started.kind.whole, before.started.key, null]
    const timer = 'moved' in before ? before.moved : before.stopped
    const due = 'moved' in before ? before.due : timer.due
    return ['timer', timer.kind.whole, timer.key, { ...saved(timer), due }]
  }

  revert(change: TimeChange): void {
    if (change[0] === 'clock') {
      this.set(change[1], change[2])
      return
    }
    const [, whole, key, before] = change
    const kind = this.kinds.find((each) => each.whole === whole)
    const running = kind && this.find(kind, key)
    if (running !== undefined) this.stop(running)
    if (kind === undefined || before === null) return
    const { due, sequence, every } = before
    const timer = new Timer(kind, key, Math.max(due, this.read(kind.clock)), sequence, every, 0)
    this.store.undo.noteOf(this, { started: timer })
    this.started++
    this.put(timer)
  }

  restore(before: TimeBefore): void {
    this.first = undefined
    if ('started' in before) {
      this.started--
      this.take(before.started)
    } else if ('stopped' in before) this.put(before.stopped)
    else if ('moved' in before) {
      const { moved, due } = before
      moved.due = due
      this.clocks[moved.kind.clock].heap.moved(moved)
    } else {
      const clock = this.clocks[before.clock]
      clock.at = before.at
      clock.runs = !clock.runs
    }
  }

  private put(timer: Timer): void {
    const clock = this.clocks[timer.kind.clock]
    const { slot } = timer.kind
    const started = this.bySlot[slot]
    if (started === undefined) this.bySlot[slot] = new Map([[timer.key, timer]])
    else started.set(timer.key, timer)
    clock.heap.add(timer)
    if (this.first !== undefined) this.consider(timer, clock)
  }

  private take(timer: Timer): void {
    if (timer === this.first) this.first = undefined
    const { slot } = timer.kind
    const started = this.bySlot[slot]
    started?.delete(timer.key)
    // A kind without keys has one timer at a time, and often only one in a match.
    if (timer.key === '' && started?.size === 0) this.bySlot[slot] = undefined
    this.clocks[timer.kind.clock].heap.remove(timer)
  }

  private all(): Timer[] {
    return this.bySlot.flatMap((timers) => [...(timers?.values() ?? [])])
  }
}
