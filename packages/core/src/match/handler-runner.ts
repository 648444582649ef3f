import type { IdMaker, Seat } from '../state/index.ts'
import { FaultRuns } from './fault-runs.ts'
import { type Fault, FaultLog, inOurWords, waits } from './faults.ts'
import { MatchState } from './match-state.ts'
import type { Handler, Plan } from './plan.ts'
import { type Refusal, refuse } from './ruling.ts'
import type { Scope } from './scope.ts'

/** What a match is given beside its plan, secret and settings. */
export interface Works {
  readonly ids?: IdMaker
  readonly onFault?: (fault: Fault) => void
  /** All settings as they were in force, in place of those that would be. */
  readonly inForce?: { readonly [rule: string]: unknown }
}

/** Why a step cannot be kept. */
interface StepFailure {
  readonly error: unknown
  readonly handler: string
  /** Whether rules were settling. */
  readonly settling?: boolean | undefined
}

/** During a trial, as a fault names it. */
export const TRIAL = 'trial'
/** Runs the code of rules, and takes up what it throws. */
export abstract class HandlerRunner extends MatchState {
  abstract readonly scopes: readonly Scope[]
  /** From the first fault on. */
  runs: FaultRuns | undefined
  /** The label of the handler that runs. */
  running = ''
  protected stepFailure: StepFailure | undefined
  /** Whether rules are settling; false when they have settled in this step. */
  protected settling: boolean | undefined
  private readonly onFault: Works['onFault']
  private log: FaultLog | undefined

  constructor(
    plan: Plan,
    key: Uint8Array,
    settings: { readonly [rule: string]: unknown },
    { ids, onFault, inForce }: Works,
  ) {
    super(plan, key, settings, ids, inForce)
    this.onFault = onFault
  }

  /** Made when it is first wanted. */
  get faults(): FaultLog {
    this.log ??= new FaultLog(this.store.ids, this.onFault)
    return this.log
  }

  /** Runs a handler that only looks: it cannot write. */
  look<R>(handler: Handler<[], R>): R
  look<A, B, R>(handler: Handler<[A, B], R>, a: A, b: B): R
  look(handler: Handler<[unknown?, unknown?], unknown>, a?: unknown, b?: unknown): unknown {
    const { open } = this.store
    this.store.open = false
    try {
      return this.run(handler, a, b)
    } finally {
      this.store.open = open
    }
  }

  /** Runs what only reads: it cannot write. */
  closed<R>(body: () => R): R {
    const { open } = this.store
    this.store.open = false
    try {
      return body()
    } finally {
      this.store.open = open
    }
  }

  /**
   * What something says that is only asked, outside of steps or beside them: `otherwise` where it throws, which is a
   * fault. `handler` is who is asked first.
   */
  ask<R>(during: string, handler: string, otherwise: R, body: () => R): R {
    const { running, store } = this
    const { open, trouble, missing } = store
    this.running = handler
    try {
      return body()
    } catch (error) {
      this.faults.add({ at: this.time.now, handler: this.running, during, error: inOurWords(error) }, false)
      Object.assign(store, { open, trouble, missing })
      return otherwise
    } finally {
      this.running = running
    }
  }

  /** Runs a handler with its rule's `match`. The arguments are spelt out: gathering them would cost more than the call. */
  run<R>(handler: Handler<[], R>): R
  run<A, R>(handler: Handler<[A], R>, a: A): R
  run<A, B, R>(handler: Handler<[A, B], R>, a: A, b: B): R
  run(handler: Handler<[unknown?, unknown?], unknown>, a?: unknown, b?: unknown): unknown {
    const outer = this.running
    this.running = handler.label
    const result = handler.run(this.scopes[handler.rule], a, b)
    if (result instanceof Promise) this.waited(result)
    this.running = outer
    return result
  }

  /** Fails the step: a handler has answered with a promise. */
  waited(promise: Promise<unknown>): never {
    return this.store.fail(waits(this.running, promise))
  }

  /** The step cannot be kept any more, whoever catches the error. */
  failStep(error: unknown): void {
    this.store.open = true // an amendment may have thrown
    this.stepFailure ??= { error, handler: this.running, settling: this.settling }
  }

  /** What a step is answered for which it is taken back, and `by` whose action it was; or what was only tried. */
  protected faulted(during: string, { error: thrown, handler, settling }: StepFailure, by?: Seat): Refusal {
    const { missing, trouble } = this.store
    const error = inOurWords(thrown)
    if (missing !== undefined && error === trouble && trouble?.code === 'ZR_STATE_NO_ROW')
      return refuse('no-such-target', { seat: missing })
    const isStep = during !== TRIAL
    const fault = this.faults.add({ at: this.time.now, handler, during, error }, isStep)
    if (isStep) {
      this.runs ??= new FaultRuns()
      this.runs.add(settling ? undefined : by)
    }
    return refuse('fault', { fault })
  }
}
