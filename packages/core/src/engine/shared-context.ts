import type { Seat } from '../cells/index.ts'
import type { Times } from '../rule/index.ts'
import type { ClockName, Timekeeper } from '../time/index.ts'
import type { HandlerRunner } from './handler-runner.ts'

/** The context that all rules of a match share. */
export class SharedContext {
  readonly time: Times
  readonly clocks: Clocks
  readonly seating: SeatingApi

  constructor(engine: HandlerRunner) {
    this.time = new Readings(engine.time)
    this.clocks = new Clocks(engine)
    this.seating = new SeatingApi(engine)
  }
}

class Readings implements Times {
  private readonly keeper: Timekeeper

  constructor(keeper: Timekeeper) {
    this.keeper = keeper
  }

  get match(): number {
    return this.keeper.now
  }
  get phase(): number {
    return this.keeper.read('phase')
  }
  get play(): number {
    return this.keeper.read('play')
  }
  get turn(): number {
    return this.keeper.read('turn')
  }
  get late(): number {
    return this.keeper.late
  }
}

class Clocks {
  private readonly engine: HandlerRunner

  constructor(engine: HandlerRunner) {
    this.engine = engine
  }

  resume(...clocks: readonly ClockName[]): void {
    this.assertOpen()
    for (const clock of clocks) this.engine.time.set(clock, true)
  }

  runs(clock: ClockName): boolean {
    return this.engine.time.runs(clock)
  }

  pause(...clocks: readonly ClockName[]): void {
    this.assertOpen()
    for (const clock of clocks) this.engine.time.set(clock, false)
  }

  clear(clock: ClockName): void {
    this.assertOpen()
    this.engine.time.stopWhere((timer) => timer.kind.clock === clock)
  }

  private assertOpen(): void {
    if (!this.engine.store.open) this.engine.store.refuse('clocks')
  }
}

class SeatingApi {
  private readonly engine: HandlerRunner

  constructor(engine: HandlerRunner) {
    this.engine = engine
  }

  get all(): readonly Seat[] {
    return this.engine.seating.all()
  }

  add(seat: Seat): void {
    this.engine.addSeat(seat)
  }

  markGone(seat: Seat): void {
    this.engine.seating.setGone(seat, true)
    this.engine.stopTimersOf(seat)
  }

  markHere(seat: Seat): void {
    this.engine.seating.setGone(seat, false)
  }

  handOver(seat: Seat): void {
    this.engine.seating.handOver(seat)
  }

  remove(seat: Seat): void {
    this.engine.removeSeat(seat)
  }

  has(seat: Seat): boolean {
    return this.engine.seating.has(seat)
  }

  isGone(seat: Seat): boolean {
    return this.engine.seating.isGone(seat)
  }

  number(seat: Seat): number {
    return this.engine.seating.number(seat)
  }
}
