import type { Seat, Values } from '../cells/index.ts'
import type { Chance } from '../chance/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { DraftPlan, RulePlan, TimerPlan } from '../plan/index.ts'
import type { Gate, RuleLike, Ruling, TakeBack, When } from '../rule/index.ts'
import { byDefault, canAct } from './deciding.ts'
import type { HandlerRunner } from './handler-runner.ts'
import type { SharedContext } from './shared-context.ts'

/** The `match` that the handlers of one rule get. MatchIn is its type. */
export class Scope {
  readonly own: { readonly [part: string]: unknown }
  readonly config: unknown
  readonly seatLimits: { readonly min: number; readonly max: number }
  readonly time: SharedContext['time']
  readonly timers: Timers
  readonly clocks: SharedContext['clocks']
  readonly seating: SharedContext['seating']
  private readonly engine: HandlerRunner
  private readonly plan: RulePlan

  constructor(engine: HandlerRunner, plan: RulePlan, own: Scope['own'], shared: SharedContext) {
    this.engine = engine
    this.plan = plan
    this.own = own
    this.config = plan.config
    this.seatLimits = engine.plan.seatLimits
    this.time = shared.time
    this.timers = new Timers(engine, plan)
    this.clocks = shared.clocks
    this.seating = shared.seating
  }

  get seats(): readonly Seat[] {
    return this.engine.seating.here()
  }

  get settings(): unknown {
    return this.engine.settings[this.plan.name]
  }

  get bout(): number {
    return this.engine.bout
  }

  chance(purpose: string): Chance {
    return this.engine.stream(this.plan.name, purpose)
  }

  use(rule: RuleLike): object | undefined {
    return this.engine.used.get(rule.name)
  }

  emit(event: string, cells: Values): void {
    const plan = this.plan.events.get(event)
    if (plan === undefined)
      this.engine.store.fail(
        misused(`Rule '${this.plan.name}' has no event '${event}'`, "Declare it in 'events'"),
      )
    this.engine.emit(plan, cells)
  }

  resolve(draft: string, cells: Values): Ruling {
    return this.engine.resolve(this.draft(draft), cells)
  }

  weigh(draft: string, cells: Values): Values {
    return this.engine.weigh(this.draft(draft), cells)
  }

  reading<R>(ask: (match: Scope) => R): R {
    return this.engine.closed(() => ask(this))
  }

  canAct(seat: Seat, gate: Gate): boolean {
    return canAct(this.engine, seat, gate)
  }

  byDefault(seat: Seat, gate: Gate): boolean {
    return byDefault(this.engine, seat, gate)
  }

  get takeBack(): TakeBack {
    return this.engine.keepsPast()
  }

  beginSpan(span: 'turn' | 'life' | 'round' | 'bout', seat?: Seat): void {
    this.engine.begins(span, seat)
  }

  private draft(name: string): DraftPlan {
    const plan = this.plan.drafts.get(name)
    if (plan === undefined)
      this.engine.store.fail(
        misused(`Rule '${this.plan.name}' has no draft '${name}'`, "Declare it in 'drafts'"),
      )
    return plan
  }
}

const notWhole = (name: string, got: unknown): RefereeError =>
  new RefereeError('ZR_TIME_NOT_WHOLE', { what: `The due of timer '${name}'`, got })
const misused = (what: string, fix: string): RefereeError =>
  new RefereeError('ZR_MATCH_MISUSED', { what, fix })

class Timers {
  private readonly engine: HandlerRunner
  private readonly plan: RulePlan

  constructor(engine: HandlerRunner, plan: RulePlan) {
    this.engine = engine
    this.plan = plan
  }

  start(name: string, when: When): void {
    this.assertOpen()
    const kind = this.named(name)
    const now = this.engine.time.read(kind.clock)
    const every = 'every' in when ? when.every : undefined
    const due = 'at' in when ? when.at : now + ('in' in when ? when.in : when.every)
    if (!Number.isSafeInteger(due)) this.engine.store.fail(notWhole(name, due))
    if (every !== undefined && every < 1)
      this.engine.store.fail(
        misused(`Timer '${name}' was to repeat every ${every} ms`, 'A period is at least 1 ms'),
      )
    this.engine.time.start(kind, when.key ?? '', Math.max(due, now), every)
  }

  cancel(name: string, key = ''): void {
    this.assertOpen()
    const timer = this.engine.time.find(this.named(name), key)
    if (timer !== undefined) this.engine.time.stop(timer)
  }

  runs(name: string, key = ''): boolean {
    return this.engine.time.find(this.named(name), key) !== undefined
  }

  left(name: string, key = ''): number {
    const timer = this.engine.time.find(this.named(name), key)
    return timer === undefined ? 0 : Math.max(0, timer.due - this.engine.time.read(timer.kind.clock))
  }

  postpone(name: string, by: number, key = ''): number {
    this.assertOpen()
    const timer = this.engine.time.find(this.named(name), key)
    if (timer === undefined)
      this.engine.store.fail(
        misused(`Timer '${name}' was put off, but it does not run`, 'Ask timers.runs first'),
      )
    const due = Math.max(this.engine.time.read(timer.kind.clock), timer.due + by)
    if (!Number.isSafeInteger(due)) this.engine.store.fail(notWhole(name, due))
    this.engine.time.move(timer, due)
    return due
  }

  private named(name: string): TimerPlan {
    const plan = this.plan.timers.get(name)
    if (plan === undefined)
      this.engine.store.fail(
        misused(`Rule '${this.plan.name}' has no timer '${name}'`, "Declare it in 'timers'"),
      )
    return plan
  }

  private assertOpen(): void {
    if (!this.engine.store.open) this.engine.store.refuse(`${this.plan.name} timers`)
  }
}
