import type { Store } from '../state/index.ts'
import { type ClockName, clockNames, type Timer, TimerHeap } from './heap.ts'

/** The order of timers due at one instant (RULES 1.3). */
export type Band = 'lapse' | 'inner' | 'outer' | 'effect'
const bands: Readonly<Record<Band, number>> = { lapse: 1, inner: 2, outer: 3, effect: 4 }
const BAND = 2 ** 48

interface Clock {
  /** Running: the match time at which it read zero. Held: its reading. */
  at: number
  runs: boolean
  readonly heap: TimerHeap
}
/** What a timer is started as. */
export interface Start {
  readonly owner: number
  readonly name: string
  readonly key: string
  readonly clock: ClockName
  readonly band: Band
  /** In the time of the clock, ms. */
  readonly due: number
  readonly every?: number | undefined
}

/** Clocks and timers as a snapshot has them. */
export interface SavedTime {
  readonly now: number
  readonly started: number
  readonly clocks: readonly { readonly at: number; readonly runs: boolean }[]
  readonly timers: readonly (Omit<Timer, 'id' | 'at' | 'link' | 'every'> & {
    readonly every?: number | undefined
  })[]
}

const STARTED = 0
const STOPPED = 1
const MOVED = 2
const CLOCK = 3
const COUNTED = 4

/** The four clocks of a match and the timers on them. Every change can be taken back. */
export class Timekeeper {
  /** Ms since the match began. */
  now = 0
  private readonly store: Store
  private readonly clocks: Readonly<Record<ClockName, Clock>>
  private readonly running: Map<string, Timer> = new Map()
  private readonly inOrder: readonly Clock[]
  /** The timer that is due first, kept until a timer or a clock changes; null when none runs. */
  private first: Timer | null | undefined
  private firstDue = 0
  private started = 0
  /** The link of the timer that fires now; see {@link Timer.link}. */
  link = 0

  constructor(store: Store) {
    this.store = store
    const clock = (runs: boolean): Clock => ({ at: 0, runs, heap: new TimerHeap() })
    this.clocks = { match: clock(true), phase: clock(true), play: clock(false), turn: clock(false) }
    this.inOrder = clockNames.map((name) => this.clocks[name])
  }

  /** What a clock reads, ms. */
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
    this.store.undo.note(this, CLOCK, { name, at: clock.at })
    clock.at = this.now - clock.at
    clock.runs = runs
  }

  start(start: Start): Timer {
    const id = timerId(start.owner, start.name, start.key)
    const former = this.running.get(id)
    if (former !== undefined) this.stop(former)
    this.store.undo.note(this, COUNTED, this.started)
    const sequence = bands[start.band] * BAND + this.started++
    const timer: Timer = {
      id,
      owner: start.owner,
      name: start.name,
      key: start.key,
      clock: start.clock,
      due: start.due,
      sequence,
      every: start.every,
      link: start.due <= this.read(start.clock) ? this.link + 1 : 0,
      at: -1,
    }
    this.store.undo.note(this, STARTED, timer)
    this.put(timer)
    return timer
  }

  find(owner: number, name: string, key: string): Timer | undefined {
    return this.running.get(timerId(owner, name, key))
  }

  stop(timer: Timer): void {
    this.store.undo.note(this, STOPPED, timer)
    this.take(timer)
  }

  /** Keeps its place in the order of starting. */
  move(timer: Timer, due: number): void {
    this.first = undefined
    this.store.undo.note(this, MOVED, { timer, due: timer.due })
    timer.due = due
    this.clocks[timer.clock].heap.moved(timer)
  }

  stopWhere(matches: (timer: Timer) => boolean): void {
    for (const timer of [...this.running.values()]) if (matches(timer)) this.stop(timer)
  }

  /** When the first timer on a running clock is due (match time), or infinity. */
  soonest(): number {
    return this.first === undefined ? this.lookAgain() : this.firstDue
  }

  /** That timer. */
  next(): Timer | undefined {
    if (this.first === undefined) this.lookAgain()
    return this.first ?? undefined
  }

  private lookAgain(): number {
    this.first = null
    this.firstDue = Number.POSITIVE_INFINITY
    for (const clock of this.inOrder) {
      const timer = clock.runs ? clock.heap.first() : undefined
      if (timer === undefined) continue
      const due = Math.max(timer.due + clock.at, this.now)
      if (
        due < this.firstDue ||
        (due === this.firstDue && this.first !== null && timer.sequence < this.first.sequence)
      ) {
        this.first = timer
        this.firstDue = due
      }
    }
    return this.firstDue
  }

  /** Uses a due timer up, for good: a repeating one is armed again at its due plus its period, so that it never drifts. */
  use(timer: Timer): void {
    if (timer.every === undefined) this.take(timer)
    else {
      this.first = undefined
      timer.due += timer.every
      this.clocks[timer.clock].heap.moved(timer)
    }
  }

  /** Every timer and clock as texts for the hash. */
  texts(): string[] {
    const timers = [...this.running.values()].map(
      (timer) => `timer ${timer.id} ${timer.clock} ${timer.due} ${timer.sequence} ${timer.every}`,
    )
    return [...timers, `clocks ${JSON.stringify(clockNames.map((name) => this.state(name)))} ${this.started}`]
  }

  save(): SavedTime {
    const timers = [...this.running.values()].map(({ at: _at, link: _link, id: _id, ...timer }) => timer)
    return {
      now: this.now,
      started: this.started,
      clocks: clockNames.map((name) => this.state(name)),
      timers,
    }
  }

  /** For a match that goes on from a snapshot: this one must not have begun to run. */
  load({ now, started, clocks, timers }: SavedTime): void {
    this.now = now
    this.started = started
    for (const [at, clock] of clocks.entries())
      Object.assign(this.inOrder[at] ?? {}, { at: clock.at, runs: clock.runs })
    for (const timer of timers)
      this.put({
        ...timer,
        id: timerId(timer.owner, timer.name, timer.key),
        every: timer.every,
        link: 0,
        at: -1,
      })
  }

  $restore(code: number, old: unknown): void {
    this.first = undefined
    if (code === STARTED) this.take(old as Timer)
    else if (code === STOPPED) this.put(old as Timer)
    else if (code === COUNTED) this.started = old as number
    else if (code === MOVED) {
      const { timer, due } = old as { timer: Timer; due: number }
      timer.due = due
      this.clocks[timer.clock].heap.moved(timer)
    } else {
      const { name, at } = old as { name: ClockName; at: number }
      const clock = this.clocks[name]
      clock.at = at
      clock.runs = !clock.runs
    }
  }

  private put(timer: Timer): void {
    this.first = undefined
    this.running.set(timer.id, timer)
    this.clocks[timer.clock].heap.add(timer)
  }

  private take(timer: Timer): void {
    this.first = undefined
    this.running.delete(timer.id)
    this.clocks[timer.clock].heap.remove(timer)
  }
}

const timerId = (owner: number, name: string, key: string): string => `${owner}.${name}:${key}`
