import type { ClockName } from '../kit/index.ts'

/** The order of timers due at one instant. */
export type Band = 'lapse' | 'inner' | 'outer' | 'effect'
/** A timer as a rule declares it. */
export interface TimerKind {
  /** Its number among all timers of a rulebook, and the number of its rule. */
  readonly slot: number
  readonly owner: number
  readonly name: string
  /** With its rule's name, such as `respawn.back`: what a snapshot calls it by. */
  readonly whole: string
  readonly clock: ClockName
  readonly band: Band
}

/** A running timer. The engine knows which handler it calls. */
export class Timer {
  readonly kind: TimerKind
  readonly key: string
  /** In the time of its clock, ms. */
  due: number
  /** Band and order of starting in one number. */
  readonly sequence: number
  /** Ms between two firings of a repeating timer. */
  readonly every: number | undefined
  /** Number of timers that started one another at this instant before it. */
  readonly link: number
  /** Its index in the heap; −1 if it is not in it. */
  at = -1

  constructor(
    kind: TimerKind,
    key: string,
    due: number,
    sequence: number,
    every: number | undefined,
    link: number,
  ) {
    this.kind = kind
    this.key = key
    this.due = due
    this.sequence = sequence
    this.every = every
    this.link = link
  }
}
const before = (a: Timer, b: Timer): boolean => a.due < b.due || (a.due === b.due && a.sequence < b.sequence)

/** A binary heap of the timers of one clock, earliest first. Each timer knows its place, so removing one is quick. */
export class TimerHeap {
  private readonly items: Timer[] = []

  get size(): number {
    return this.items.length
  }

  first(): Timer | undefined {
    return this.items[0]
  }

  all(): readonly Timer[] {
    return this.items
  }

  add(timer: Timer): void {
    timer.at = this.items.length
    this.items.push(timer)
    this.rise(timer)
  }

  remove(timer: Timer): void {
    const last = this.items.pop() as Timer
    if (last !== timer) {
      this.place(last, timer.at)
      this.moved(last)
    }
    timer.at = -1
  }

  /** To be called after a timer's due has changed. */
  moved(timer: Timer): void {
    this.rise(timer)
    this.sink(timer)
  }

  private place(timer: Timer, at: number): void {
    this.items[at] = timer
    timer.at = at
  }

  private rise(timer: Timer): void {
    let at = timer.at
    while (at > 0) {
      const parent = this.items[(at - 1) >> 1] as Timer
      if (!before(timer, parent)) break
      this.place(parent, at)
      at = (at - 1) >> 1
    }
    this.place(timer, at)
  }

  private sink(timer: Timer): void {
    let at = timer.at
    for (;;) {
      const left = this.items[2 * at + 1]
      if (left === undefined) break
      const right = this.items[2 * at + 2]
      const child = right !== undefined && before(right, left) ? right : left
      if (!before(child, timer)) break
      const next = child.at
      this.place(child, at)
      at = next
    }
    this.place(timer, at)
  }
}
