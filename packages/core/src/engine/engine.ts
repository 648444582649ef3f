import type { Seat, Values } from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { Answer, DraftPlan, EventPlan, Handler, InputPlan, Plan } from '../plan/index.ts'
import { OpenDraft, settingsOrIssues } from '../plan/index.ts'
import type { Tags } from '../rule/index.ts'
import { allowed, asRuling, type Refusal, type Ruling, refuse } from '../rule/index.ts'
import { PendingNotice } from '../sight/index.ts'
import { amendDraft } from './apply-draft.ts'
import { type BoundPlan, bindPlan } from './bind-plan.ts'
import type { FaultRuns } from './fault-runs.ts'
import { type Carry, type Decide, HandlerRunner, TRIAL, type Works } from './handler-runner.ts'
import { OptionCache } from './option-cache.ts'
import { resetParts } from './reset-parts.ts'
import type { Usable } from './rule-api.ts'
import { Scope } from './scope.ts'
import { Commons } from './shared-context.ts'
import { SightKeeper } from './sight-keeper.ts'
import { stateHash } from './state-hash.ts'
import { Past } from './take-back.ts'

/** All rules' parts by name, as they are held from outside. */
type Held = { readonly [rule: string]: { readonly [part: string]: unknown } }

/** An event as the viewer 'server' gets it. */
export interface ServerEvent {
  /** Such as `respawn.back`. */
  readonly name: string
  /** Match time, ms. */
  readonly at: number
  /** All cells of the event. */
  readonly cells: { readonly [cell: string]: unknown }
}
/** Hears of each step that changed the seats, with how much had been told before it. */
export interface SeatWatch {
  seatsChanged(told: number): void
}
interface Queued {
  readonly event: EventPlan
  readonly cells: Values
  readonly depth: number
}

const MAX_LINKS = 1000
const MAX_SETTLINGS = 100

/** The steps that change a match's state: each whole or not at all. Which inputs there are is the inbox's business. */
export class Engine extends HandlerRunner {
  readonly scopes: readonly Scope[]
  private readonly decides: BoundPlan['decide']
  private readonly carries: BoundPlan['carry']
  /** What `match.use` gives, by rule name. */
  readonly used: ReadonlyMap<string, object>
  /** Run when a step is about to be kept; where it throws, the step is taken back. Set for one step. */
  onKeep: (() => void) | undefined
  /** Notices of finished steps, for the next flush. */
  readonly pendingNotices: PendingNotice[] = []
  /** All events of finished steps, while the viewer 'server' is open. */
  serverEvents: ServerEvent[] | undefined
  /** Steps that were kept, so that it shows whether anything has happened since. */
  steps = 0
  readonly sights: SightKeeper
  /** Steps that can be taken back, from the first one that asks for it. */
  past: Past | undefined
  private holding: Held | undefined
  private queue: Queued[] = []
  private depth = 0
  private pending: { readonly event: EventPlan; readonly cells: Values }[] = []
  /** Notices of this step with their viewers, to go out if it is kept. */
  private fixed: PendingNotice[] = []
  watch: SeatWatch | undefined
  private seated = 0
  private stepEvents: ServerEvent[] | undefined
  private known: OptionCache | undefined

  constructor(
    plan: Plan,
    key: Uint8Array,
    settings: { readonly [rule: string]: unknown },
    given: Works = {},
  ) {
    super(plan, key, settings, given)
    const commons = new Commons(this)
    this.scopes = plan.rules.map((rule) => new Scope(this, rule, this.handles(rule.index), commons))
    const { decide, carry, used } = bindPlan(plan)
    this.decides = decide
    this.carries = carry
    this.used = new Map(plan.rules.map(({ name, index }) => [name, new (used[index] as Usable)(this, index)]))
    this.sights = new SightKeeper(this)
    if (this.sights.concerned) this.step('begin', () => this.sights.begin())
  }

  /** Made when options are first asked for. */
  get options(): OptionCache {
    this.known ??= new OptionCache(this)
    return this.known
  }

  keepsPast(): Past {
    this.past ??= new Past(this)
    return this.past
  }

  get held(): Held {
    this.holding ??= Object.fromEntries(
      this.plan.rules.map(({ name, index }) => [name, this.scopes[index]?.own ?? {}]),
    )
    return this.holding
  }

  /** Runs a whole step. A refusal or a throw leaves everything as it was. */
  step(during: string, body: () => Answer): Ruling {
    this.begin(during, '')
    let ruling: Ruling = allowed
    try {
      ruling = asRuling(during, body())
      if (ruling.ok) this.settleStep()
    } catch (error) {
      this.failStep(error)
    }
    return this.end(during, ruling)
  }

  /** Runs one handler as a whole step, without the cost of a closure around it. */
  perform<A, B>(during: string, handler: Handler<[A, B], Answer>, a: A, b: B): Ruling {
    this.begin(during, handler.label)
    let ruling: Ruling = allowed
    try {
      const answer = handler.run(this.scopes[handler.rule], a, b)
      if (answer instanceof Promise) this.waited(answer)
      ruling = asRuling(during, answer)
      if (ruling.ok) this.settleStep()
    } catch (error) {
      this.failStep(error)
    }
    return this.end(during, ruling)
  }

  /** Decides an input as a whole step: its gates, then the rule. */
  decide(plan: InputPlan, seat: Seat | undefined, input: unknown, tags: Tags | undefined): Ruling {
    this.begin(plan.name, '')
    let ruling: Ruling = allowed
    try {
      ruling = asRuling(plan.name, (this.decides[plan.number] as Decide)(this, plan, seat, input, tags))
      if (ruling.ok) this.settleStep()
    } catch (error) {
      this.failStep(error)
    }
    return this.end(plan.name, ruling, seat)
  }

  /** Decides an input within the step that runs. */
  decideNow(plan: InputPlan, seat: Seat | undefined, input: unknown, tags: Tags | undefined): Answer {
    return (this.decides[plan.number] as Decide)(this, plan, seat, input, tags)
  }

  /** What an input would be answered, without anything of it being kept: by itself, or in the middle of a step. */
  trial(body: () => Answer): Ruling {
    const { store, queue, pending, stepFailure, running } = this
    const nested = store.open
    if (!nested) this.begin(TRIAL, '')
    const { problem, missing, woken } = store
    const [undo, events, notices] = [store.undo.size, this.queue.length, this.pending.length]
    const touched = store.touched.length
    const { broughtBack } = store
    let ruling: Ruling = allowed
    let thrown: { readonly error: unknown } | undefined
    try {
      ruling = asRuling(TRIAL, body())
    } catch (error) {
      thrown = { error }
    }
    if (store.problem !== problem) thrown = { error: store.problem }
    if (thrown !== undefined) ruling = this.faulted(TRIAL, { ...thrown, handler: this.running })
    this.rollBack(undo, events, notices)
    store.takeTouched(touched)
    Object.assign(store, { problem, missing, woken, broughtBack, open: nested })
    Object.assign(this, { queue, pending, stepFailure, running })
    return ruling
  }

  /** Runs a part of a step that is taken back by itself when it is refused. */
  attempt(body: () => Answer): Ruling {
    const [undo, events, notices] = [this.store.undo.size, this.queue.length, this.pending.length]
    const ruling = asRuling(this.running, body())
    if (!ruling.ok) this.rollBack(undo, events, notices)
    return ruling
  }

  private rollBack(undo: number, events: number, notices: number): void {
    this.store.undo.rollback(undo)
    // Setting a length costs, even to what it is.
    if (this.queue.length > events) this.queue.length = events
    if (this.pending.length > notices) this.pending.length = notices
  }

  emit(event: EventPlan, cells: Values): void {
    if (!this.store.open) this.store.refuse(event.name)
    const filled = this.filled(event, cells)
    if (event.facets.length > 0 || this.serverEvents !== undefined)
      this.pending.push({ event, cells: filled })
    if (event.handlers.length > 0) this.queue.push({ event, cells: filled, depth: this.depth + 1 })
  }

  /** Amends a draft and carries it out; where it is refused, nothing of it remains. */
  resolve(plan: DraftPlan, given: Values): Ruling {
    const { store } = this
    if (!store.open) store.refuse(plan.name)
    const undo = store.undo.size
    const events = this.queue.length
    const notices = this.pending.length
    let ruling: Ruling
    try {
      ruling = asRuling(plan.name, (this.carries[plan.number] as Carry)(this, plan, plan.fill(given)))
    } catch (error) {
      this.failStep(error)
      throw error
    }
    if (!ruling.ok) this.rollBack(undo, events, notices)
    return ruling
  }

  /** The amended draft without carrying it out; unamended where it would be refused. */
  weigh(plan: DraftPlan, given: Values): Values {
    const filled = plan.fill(given)
    const amended = amendDraft(this, plan, filled)
    return amended instanceof OpenDraft ? amended.$settled() : filled
  }

  begins(span: 'turn' | 'life' | 'round' | 'bout', seat: Seat | undefined): void {
    if (span === 'bout') {
      this.nextBout()
      this.runs = undefined
    }
    const parts = this.plan.bySpan[span].flatMap(([rule, part]) => this.parts[rule]?.[part]?.stored ?? [])
    resetParts(this.store, parts, seat)
    if (span === 'bout') for (const { setUp } of this.plan.rules) if (setUp !== undefined) this.run(setUp)
  }

  /** 64 bits over all rows, timers, clocks, streams and seats. */
  hash(): string {
    return stateHash(this, this.streams, this.past?.save() ?? [])
  }

  /**
   * Changes settings of a rule while the match runs: the rule clamps what is beyond its new limits, and everything is
   * settled again. Timers that run keep their due.
   */
  set(rule: string, changes: object): Refusal | void {
    const plan = this.plan.rules.find(({ name }) => name === rule)
    if (plan === undefined) return refuse('bad-input', { issues: [`there is no rule '${rule}'`] })
    const fixed = Object.keys(changes).filter((setting) => plan.fixed.has(setting))
    if (fixed.length > 0)
      return refuse('bad-input', {
        issues: [`'${fixed[0]}' decides who sees what and cannot change in a match`],
      })
    const before = this.settings[rule]
    const outcome = settingsOrIssues(plan, { ...Object(before), ...changes }, changes)
    if ('issues' in outcome) return refuse('bad-input', { issues: outcome.issues })
    this.changeSettings({ ...this.settings, [rule]: outcome.value })
    this.store.woken = -1
    for (const { changed } of this.plan.rules) if (changed !== undefined) this.run(changed, rule)
  }

  private begin(during: string, handler: string): void {
    const { store } = this
    if (store.open) throw new RefereeError('ZR_MATCH_REENTERED', { input: during })
    store.open = true
    store.woken = 0
    store.again = false
    store.fresh = false
    store.broughtBack = undefined
    store.seatRemoved = false
    this.running = handler
  }

  /** What is announced, woken, seen and noticed because of what a step did. */
  private settleStep(): void {
    if (this.stepFailure !== undefined || this.store.problem !== undefined) return
    if (this.queue.length > 0) this.drain()
    if (this.store.woken !== 0) {
      this.settling = true
      this.settle()
      this.settling = false
    }
    if (this.sights.concerned) this.sights.settle()
    if (this.past !== undefined)
      this.past.settle(this.pending.some(({ event }) => event.facets.some(({ forAll }) => !forAll)))
    if (this.pending.length > 0) this.tell()
  }

  private end(during: string, answer: Ruling, seat?: Seat): Ruling {
    const { store } = this
    let ruling = answer
    if (store.problem !== undefined) this.failStep(store.problem)
    if (this.stepFailure !== undefined) ruling = this.faulted(during, this.stepFailure, seat)
    if (this.onKeep !== undefined) this.announce(ruling)
    const told = this.pendingNotices.length
    if (ruling.ok) {
      this.steps++
      store.undo.commit(store.again && store.fresh)
      if (this.fixed.length > 0) for (const each of this.fixed.splice(0)) this.pendingNotices.push(each)
      if (this.stepEvents !== undefined)
        for (const each of this.stepEvents.splice(0)) this.serverEvents?.push(each)
    } else this.takeBack()
    store.open = false
    if (ruling.ok && this.seating.version !== this.seated) this.reseated(told)
    if (this.runs !== undefined) this.countFaults(this.runs, ruling, seat)
    if (this.settling !== undefined) this.settling = undefined
    return ruling.ok ? allowed : ruling
  }

  private reseated(told: number): void {
    this.seated = this.seating.version
    this.watch?.seatsChanged(told)
  }

  /** Says that a step is about to be kept. Whoever hears it may prevent that by throwing. */
  private announce(ruling: Ruling): void {
    const { onKeep, store } = this
    this.onKeep = undefined
    if (!ruling.ok) return
    try {
      onKeep?.()
    } catch (error) {
      this.takeBack()
      store.open = false
      throw error
    }
  }

  private countFaults(runs: FaultRuns, ruling: Ruling, seat: Seat | undefined): void {
    if (ruling.ok && runs.end(seat, this.settling === false)) this.runs = undefined
    else if (!ruling.ok && ruling.code === 'fault' && runs.takeVoid()) this.voidBout()
  }

  /** Too much has gone wrong for the bout to go on: it ends without a winner. */
  private voidBout(): void {
    const now = (this.held['phases'] as { readonly now?: { readonly phase: string } } | undefined)?.now
    const phases = this.used.get('phases') as { finish?(why: string): void } | undefined
    if (now === undefined || now.phase === 'lobby' || now.phase === 'over') return
    this.step('void', () => phases?.finish?.('void'))
  }

  private takeBack(): void {
    const { store } = this
    store.undo.rollback(0)
    if (this.queue.length > 0) this.queue = []
    if (this.pending.length > 0) this.pending = []
    if (this.fixed.length > 0) this.fixed = []
    this.stepEvents = undefined
    if (this.stepFailure === undefined) return
    this.stepFailure = undefined
    this.depth = 0
    store.problem = undefined
    store.missing = undefined
  }

  private drain(): void {
    for (let at = 0; at < this.queue.length; at++) {
      const { event, cells, depth } = this.queue[at] as Queued
      if (depth > MAX_LINKS)
        throw new RefereeError('ZR_MATCH_CHAIN', { what: `events like '${event.name}'`, most: MAX_LINKS })
      this.depth = depth
      for (const handler of event.handlers) this.run(handler, cells)
    }
    this.queue.length = 0
    this.depth = 0
  }

  /** Who gets which notice is fixed when the step has settled. */
  private tell(): void {
    for (const { event, cells } of this.pending.splice(0)) {
      if (this.serverEvents !== undefined) {
        this.stepEvents ??= []
        this.stepEvents.push({ name: event.name, at: this.time.now, cells })
      }
      if (event.facets.length === 0) continue
      const owner = cells['seat'] as Seat | undefined
      const audiences = event.isForAll
        ? undefined
        : event.facets.map(({ sights }) => this.sights.audience(sights, owner, event.rule))
      const { time, steps, seating, store } = this
      this.fixed.push(new PendingNotice(event, time.now, steps, seating.issued, cells, audiences, store))
    }
  }

  /** Tier after tier; what a tier tells, or wakes in itself or an earlier one, is settled before the next. */
  private settle(): void {
    let again = 0
    let settled = 0
    for (let tier = 0; tier < this.plan.settle.length; ) {
      for (const handler of this.plan.settle[tier] ?? []) {
        settled |= handler.bit
        if ((this.store.woken & handler.bit) === 0) continue
        this.store.woken &= ~handler.bit
        this.run(handler)
      }
      if (this.queue.length === 0 && (this.store.woken & settled) === 0) {
        tier++
        continue
      }
      if (++again > MAX_SETTLINGS)
        throw new RefereeError('ZR_MATCH_CHAIN', { what: 'rounds of settling', most: MAX_SETTLINGS })
      this.drain()
      tier = 0
      settled = 0
    }
  }

  private filled(event: EventPlan, cells: Values): Values {
    try {
      return event.fill(cells)
    } catch (error) {
      this.failStep(error)
      throw error
    }
  }
}
