import {
  type Audience,
  anyOf,
  noViewers,
  only,
  type Seat,
  type Sight,
  type SightContext,
} from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { RulePlan } from '../plan/index.ts'
import { lookAt, Trace } from '../rows/index.ts'
import type { RuleLike } from '../rule/index.ts'
import type { HandlerRunner } from './handler-runner.ts'

/** A group of seats as it is now, and what it was computed from. */
export class GroupNow {
  readonly name: string
  audience: Audience | undefined
  busy = false

  constructor(name: string) {
    this.name = name
  }
}
type Read = ReadonlySet<object>

/**
 * The sights' window onto a match. It traces what they read. They can read state, settings and seats, and nothing
 * else.
 */
export class SightReader {
  readonly trace: Trace = new Trace()
  private readonly engine: HandlerRunner
  private readonly scopes: (SightScope | undefined)[] = []
  private readonly groups: Map<string, GroupNow> = new Map()
  /** Called when a group is computed for the first time. */
  private readonly entered: (group: GroupNow, read: Read) => void

  constructor(engine: HandlerRunner, entered: (group: GroupNow, read: Read) => void) {
    this.engine = engine
    this.entered = entered
  }

  /** Made on first use: most matches have no sight that looks at other rows. */
  scope(rule: number): SightScope {
    this.scopes[rule] ??= new SightScope(this.engine, this, this.engine.plan.rules[rule] as RulePlan)
    return this.scopes[rule]
  }

  used(name: string): object | undefined {
    const rule = this.engine.plan.rules.find((each) => each.name === name)
    return rule && this.scope(rule.index).calls
  }

  /** The group as it was last computed; the first time it is computed now. */
  group(name: string): GroupNow {
    const known = this.groups.get(name) ?? new GroupNow(name)
    this.groups.set(name, known)
    if (known.audience !== undefined) return known
    const { result, read } = this.compute(known)
    this.entered(known, read)
    known.audience = result
    return known
  }

  forget(): void {
    this.groups.clear()
  }

  /** Whoever is in the group, and what that was read from. */
  compute(now: GroupNow): { readonly result: Audience; readonly read: Read } {
    const [rule = '', group = ''] = now.name.split('.')
    const { rules } = this.engine.plan
    const index = rules.findIndex(({ name }) => name === rule)
    const members = rules[index]?.definition.groups?.[group]
    const { store } = this.engine
    if (members === undefined)
      return store.fail(new RefereeError('ZR_SIGHT_UNKNOWN_GROUP', { group: now.name }))
    if (now.busy)
      store.fail(new RefereeError('ZR_SIGHT_NOT_READABLE', { rule, what: `itself in the group '${group}'` }))
    now.busy = true
    const run = (): readonly Seat[] => members(this.scope(index))
    try {
      return this.trace.follow(() =>
        only(...this.engine.look({ rule: index, label: `${rule} group ${group}`, run })),
      )
    } finally {
      now.busy = false
    }
  }

  /** Returns the seats on this seat's side. One rule at most makes sides; without it, the seat is alone. */
  sideOf(seat: Seat | undefined): Audience {
    this.trace.add(this.engine.seating)
    // A removed seat has no side, and views nothing.
    if (seat === undefined || !this.engine.seating.has(seat)) return noViewers
    const plan = this.engine.plan.rules.find(({ definition }) => definition.sides !== undefined)
    const mates = plan?.definition.sides
    return plan === undefined || mates === undefined
      ? only(seat)
      : only(seat, ...mates(this.scope(plan.index), seat))
  }

  /** Returns who sees where a seat is. One rule at most places seats; without it, only the seat itself. */
  nearOf(seat: Seat | undefined): Audience {
    this.trace.add(this.engine.seating)
    if (seat === undefined || !this.engine.seating.has(seat)) return noViewers
    const plan = this.engine.plan.rules.find(({ definition }) => definition.inSight !== undefined)
    const seen = plan?.definition.inSight
    return plan === undefined || seen === undefined
      ? only(seat)
      : anyOf(only(seat), seen(this.scope(plan.index), seat))
  }
}

/** The read-only match that a rule's sights and groups get. */
class SightScope implements SightContext {
  readonly own: object
  readonly calls: object
  readonly seatLimits: { readonly min: number; readonly max: number }
  readonly config: unknown
  readonly rule: RulePlan
  private readonly engine: HandlerRunner
  private readonly reader: SightReader

  constructor(engine: HandlerRunner, reader: SightReader, rule: RulePlan) {
    this.engine = engine
    this.reader = reader
    this.rule = rule
    this.seatLimits = engine.plan.seatLimits
    this.config = rule.config
    this.own = Object.fromEntries(
      (engine.parts[rule.index] ?? []).map(({ plan, stored }) => [
        plan.name,
        lookAt(stored, reader.trace, engine.store),
      ]),
    )
    this.calls = Object.fromEntries(
      Object.entries(rule.definition.calls ?? {}).map(([name, run]) => [
        name,
        (...rest: unknown[]) => run(this, ...rest),
      ]),
    )
  }

  get seats(): readonly Seat[] {
    this.reader.trace.add(this.engine.seating)
    return this.engine.seating.here()
  }

  get seating(): object {
    this.reader.trace.add(this.engine.seating)
    const { seating } = this.engine
    return {
      all: seating.all(),
      has: (seat: Seat) => seating.has(seat),
      isGone: (seat: Seat) => seating.isGone(seat),
      number: (seat: Seat) => seating.number(seat),
    }
  }

  get settings(): unknown {
    this.reader.trace.add(this.engine)
    return this.engine.settings[this.rule.name]
  }

  get bout(): number {
    this.reader.trace.add(this.engine)
    return this.engine.bout
  }

  use(rule: Pick<RuleLike, 'name'>): never {
    // SightContext types the result by the rule that was asked for.
    return this.reader.used(rule.name) as never
  }

  members({ group = '' }: Sight): Audience {
    const now = this.reader.group(group.includes('.') ? group : `${this.rule.name}.${group}`)
    this.reader.trace.add(now)
    return now.audience ?? noViewers
  }

  sideOf(seat: Seat | undefined): Audience {
    return this.reader.sideOf(seat)
  }

  nearOf(seat: Seat | undefined): Audience {
    return this.reader.nearOf(seat)
  }

  get time(): never {
    return this.closed('the time')
  }
  get timers(): never {
    return this.closed('a timer')
  }
  get clocks(): never {
    return this.closed('a clock')
  }
  chance(): never {
    return this.closed('chance')
  }
  canAct(): never {
    return this.closed('options')
  }
  emit(event: string): never {
    return this.engine.store.refuse(`${this.rule.name} event ${event}`)
  }
  resolve(draft: string): never {
    return this.engine.store.refuse(`${this.rule.name} draft ${draft}`)
  }
  weigh(draft: string): never {
    return this.engine.store.refuse(`${this.rule.name} draft ${draft}`)
  }
  beginSpan(): never {
    return this.engine.store.refuse(`${this.rule.name} begins`)
  }

  private closed(what: string): never {
    return this.engine.store.fail(new RefereeError('ZR_SIGHT_NOT_READABLE', { rule: this.rule.name, what }))
  }
}
