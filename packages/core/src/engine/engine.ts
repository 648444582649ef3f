import type { Seat, Values } from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { Answer, DraftPlan, Handler, InputPlan, Plan } from '../plan/index.ts'
import { OpenDraft } from '../plan/index.ts'
import { allowed, asRuling, type Ruling, type Tags } from '../rule/index.ts'
import { amendDraft } from './apply-draft.ts'
import { type BoundPlan, bindPlan } from './bind-plan.ts'
import { type ApplyDraft, type Decide, TRIAL, type Works } from './handler-runner.ts'
import { OptionCache } from './option-cache.ts'
import { resetParts } from './reset-parts.ts'
import type { RuleApiClass } from './rule-api.ts'
import { Scope } from './scope.ts'
import { Settling } from './settling.ts'
import { SharedContext } from './shared-context.ts'
import { SightKeeper } from './sight-keeper.ts'
import { stateHash } from './state-hash.ts'
import { KeptSteps } from './take-back.ts'

/** All rules' parts by name, as they are held from outside. */
type StateByRule = { readonly [rule: string]: { readonly [part: string]: unknown } }

/** Called after each step that changed the seats, with the number of notices there were before it. */
export interface SeatWatch {
  seatsChanged(noticeCount: number): void
}
const runBody = (_engine: Engine, body: () => Answer): Answer => body()
const runHandler = <A, B>(engine: Engine, handler: Handler<[A, B], Answer>, a: A, b: B): Answer =>
  engine.run(handler, a, b)

/**
 * The steps that change the state of a match. Each happens completely or not at all. The inbox decides which inputs
 * there are.
 */
export class Engine extends Settling {
  readonly scopes: readonly Scope[]
  private readonly decidesInput: BoundPlan['decide']
  private readonly appliesDraft: BoundPlan['applyDraft']
  readonly used: ReadonlyMap<string, object>
  /** Runs just before a step is kept. If it throws, the step is undone. It is set for one step at a time. */
  onKeep: (() => void) | undefined
  readonly sights: SightKeeper
  /** Steps that can be taken back, from the first one that asks for it. */
  past: KeptSteps | undefined
  private holding: StateByRule | undefined
  watch: SeatWatch | undefined
  private seated = 0
  private known: OptionCache | undefined

  constructor(
    plan: Plan,
    key: Uint8Array,
    settings: { readonly [rule: string]: unknown },
    given: Works = {},
    bound: BoundPlan = bindPlan(plan),
  ) {
    super(plan, key, settings, given)
    const shared = new SharedContext(this)
    this.scopes = plan.rules.map((rule) => new Scope(this, rule, this.handles(rule.index), shared))
    const { decide, applyDraft, used } = bound
    this.decidesInput = decide
    this.appliesDraft = applyDraft
    this.used = new Map(
      plan.rules.map(({ name, index }) => [name, new (used[index] as RuleApiClass)(this, index)]),
    )
    this.sights = new SightKeeper(this)
    if (this.sights.concerned) this.step('begin', () => this.sights.begin())
  }

  /** Made when options are first asked for. */
  get options(): OptionCache {
    this.known ??= new OptionCache(this)
    return this.known
  }

  keepsPast(): KeptSteps {
    this.past ??= new KeptSteps(this)
    return this.past
  }

  get held(): StateByRule {
    this.holding ??= Object.fromEntries(
      this.plan.rules.map(({ name, index }) => [name, this.scopes[index]?.own ?? {}]),
    )
    return this.holding
  }

  /** Runs a whole step. */
  step(during: string, body: () => Answer): Ruling {
    return this.whole(during, undefined, runBody, body, undefined, undefined, undefined)
  }

  /** Runs one handler as a whole step. */
  perform<A, B>(during: string, handler: Handler<[A, B], Answer>, a: A, b: B): Ruling {
    return this.whole(during, undefined, runHandler, handler, a, b, undefined)
  }

  /** Decides an input as a whole step: its gates, then the rule. */
  decide(plan: InputPlan, seat: Seat | undefined, input: unknown, tags: Tags | undefined): Ruling {
    return this.whole(plan.name, seat, this.decidesInput[plan.number] as Decide, plan, seat, input, tags)
  }

  /**
   * A refusal or a throw leaves everything as it was. `by`: whose action it is. The arguments are spelt out: gathering
   * them would cost more than the call.
   */
  private whole<A, B, C, D>(
    during: string,
    by: Seat | undefined,
    body: (engine: this, a: A, b: B, c: C, d: D) => Answer,
    a: A,
    b: B,
    c: C,
    d: D,
  ): Ruling {
    this.begin(during)
    let ruling: Ruling = allowed
    try {
      ruling = asRuling(during, body(this, a, b, c, d))
      if (ruling.ok) this.settleStep()
    } catch (error) {
      this.failStep(error)
    }
    return this.end(during, ruling, by)
  }

  decideNow(plan: InputPlan, seat: Seat | undefined, input: unknown, tags: Tags | undefined): Answer {
    return (this.decidesInput[plan.number] as Decide)(this, plan, seat, input, tags)
  }

  trial(body: () => Answer): Ruling {
    const { store, stepFailure, running } = this
    const nested = store.open
    if (!nested) this.begin(TRIAL)
    const { problem, missing, woken, broughtBack } = store
    const savepoint = this.savepoint()
    const touched = store.touched.length
    let ruling: Ruling = allowed
    let thrown: { readonly error: unknown } | undefined
    try {
      ruling = asRuling(TRIAL, body())
    } catch (error) {
      thrown = { error }
    }
    if (store.problem !== problem) thrown = { error: store.problem }
    if (thrown !== undefined) ruling = this.faulted(TRIAL, { ...thrown, handler: this.running })
    this.rollBack(savepoint)
    store.takeTouched(touched)
    Object.assign(store, { problem, missing, woken, broughtBack, open: nested })
    this.stepFailure = stepFailure
    this.running = running
    return ruling
  }

  attempt(body: () => Answer): Ruling {
    const savepoint = this.savepoint()
    const ruling = asRuling(this.running, body())
    if (!ruling.ok) this.rollBack(savepoint)
    return ruling
  }

  resolve(plan: DraftPlan, given: Values): Ruling {
    if (!this.store.open) this.store.refuse(plan.name)
    const savepoint = this.savepoint()
    let ruling: Ruling
    try {
      ruling = asRuling(
        plan.name,
        (this.appliesDraft[plan.number] as ApplyDraft)(this, plan, plan.withDefaults(given)),
      )
    } catch (error) {
      this.failStep(error)
      throw error
    }
    if (!ruling.ok) this.rollBack(savepoint)
    return ruling
  }

  weigh(plan: DraftPlan, given: Values): Values {
    const filled = plan.withDefaults(given)
    const amended = amendDraft(this, plan, filled)
    return amended instanceof OpenDraft ? amended.$settled() : filled
  }

  begins(span: 'turn' | 'life' | 'round' | 'bout', seat: Seat | undefined): void {
    if (span === 'bout') {
      this.nextBout()
      this.faultRuns = undefined
    }
    const parts = this.plan.bySpan[span].flatMap(([rule, part]) => this.parts[rule]?.[part]?.stored ?? [])
    resetParts(this.store, parts, seat)
    if (span === 'bout') for (const { setUp } of this.plan.rules) if (setUp !== undefined) this.run(setUp)
  }

  /** 64 bits over all rows, timers, clocks, streams and seats. */
  hash(): string {
    return stateHash(this, this.streams, this.past?.save() ?? [])
  }

  private begin(during: string): void {
    const { store } = this
    if (store.open) throw new RefereeError('ZR_MATCH_REENTERED', { input: during })
    store.open = true
    store.woken = 0
    store.again = false
    store.fresh = false
    store.broughtBack = undefined
    store.seatRemoved = false
    this.running = ''
  }

  /** Works through the consequences of a step: events, settle handlers, sights and notices. */
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
    if (this.pending.length > 0) this.decideNotices()
  }

  private end(during: string, answer: Ruling, seat?: Seat): Ruling {
    const { store } = this
    let ruling = answer
    if (store.problem !== undefined) this.failStep(store.problem)
    if (this.stepFailure !== undefined) ruling = this.faulted(during, this.stepFailure, seat)
    if (this.onKeep !== undefined) this.announce(ruling)
    const noticeCount = this.pendingNotices.length
    if (ruling.ok) {
      this.steps++
      store.undo.commit(store.again && store.fresh)
      if (this.fixed.length > 0) for (const each of this.fixed.splice(0)) this.pendingNotices.push(each)
      if (this.stepEvents !== undefined)
        for (const each of this.stepEvents.splice(0)) this.serverEvents?.push(each)
    } else this.takeBack()
    store.open = false
    if (ruling.ok && this.seating.version !== this.seated) {
      this.seated = this.seating.version
      this.watch?.seatsChanged(noticeCount)
    }
    if (this.faultRuns !== undefined)
      if (ruling.ok && this.faultRuns.end(seat, this.settling === false)) this.faultRuns = undefined
      else if (!ruling.ok && ruling.code === 'fault' && this.faultRuns.takeVoid()) this.voidBout()
    if (this.settling !== undefined) this.settling = undefined
    return ruling.ok ? allowed : ruling
  }

  /** Announces that a step is about to be kept. The listener can prevent it by throwing. */
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

  /** Too much has gone wrong for the bout to go on: it ends without a winner. */
  private voidBout(): void {
    const handler = this.plan.rules.find(({ onVoid }) => onVoid !== undefined)?.onVoid
    if (handler !== undefined) this.step('void', () => this.run(handler))
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
}
