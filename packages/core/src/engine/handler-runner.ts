import type { Seat, Values } from '../cells/index.ts'
import type { Answer, DraftPlan, EventPlan, Handler, InputPlan, Plan } from '../plan/index.ts'
import type { IdMaker } from '../rows/index.ts'
import { type AnyMatch, type Refusal, type Ruling, refuse, type Tags, type TakeBack } from '../rule/index.ts'
import { FaultRuns } from './fault-runs.ts'
import { type Fault, FaultLog, inOurWords, waits } from './faults.ts'
import { MatchState } from './match-state.ts'

/** The parts that a match works with, besides its plan, secret and settings. */
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
  /** True if rules were settling. */
  readonly settling?: boolean | undefined
}

/** During a trial, as a fault names it. */
export const TRIAL = 'trial'
/** Takes a parsed input through its gates and to its rule. */
export type Decide = (
  engine: HandlerRunner,
  plan: InputPlan,
  seat: Seat | undefined,
  input: unknown,
  tags: Tags | undefined,
) => Answer
/** Amends a draft whose cells are filled, and carries it out. */
export type ApplyDraft = (engine: HandlerRunner, plan: DraftPlan, filled: Values) => Answer

/** Runs the code of rules, and takes up what it throws. What is abstract here is what a step offers to that code. */
export abstract class HandlerRunner extends MatchState {
  /** The `match` of each rule's handlers. */
  abstract readonly scopes: readonly AnyMatch[]
  /** By rule name: the API that `match.use` returns. */
  abstract readonly used: ReadonlyMap<string, object>
  /** Steps that were kept. */
  abstract readonly steps: number
  abstract emit(event: EventPlan, cells: Values): void
  /** Amends a draft and carries it out; where it is refused, nothing of it remains. */
  abstract resolve(plan: DraftPlan, given: Values): Ruling
  /** The amended draft without carrying it out; unamended where it would be refused. */
  abstract weigh(plan: DraftPlan, given: Values): Values
  /** Decides an input within the step that runs. */
  abstract decideNow(plan: InputPlan, seat: Seat | undefined, input: unknown, tags: Tags | undefined): Answer
  /** Returns the ruling that an input would get, and keeps nothing of it. It may run by itself or within a step. */
  abstract trial(body: () => Answer): Ruling
  /** Runs a part of a step that is taken back by itself when it is refused. */
  abstract attempt(body: () => Answer): Ruling
  abstract begins(span: 'turn' | 'life' | 'round' | 'bout', seat: Seat | undefined): void
  /** Returns the keeper of steps that can be taken back. It is made when it is first needed. */
  abstract keepsPast(): TakeBack
  /** From the first fault on. */
  faultRuns: FaultRuns | undefined
  /** The label of the handler that runs. */
  running = ''
  protected stepFailure: StepFailure | undefined
  /** True while rules settle; false when they have settled in this step. */
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
    return this.closed(() => this.run(handler, a, b))
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
   * Runs a question: something that is asked without changing state, within a step or outside of one. Returns
   * `otherwise` if it throws, which is a fault. `handler` is the first handler that is asked.
   */
  ask<R>(during: string, handler: string, otherwise: R, body: () => R): R {
    const { running, store } = this
    const { open, problem, missing } = store
    this.running = handler
    try {
      return body()
    } catch (error) {
      this.faults.add({ at: this.time.now, handler: this.running, during, error: inOurWords(error) }, false)
      Object.assign(store, { open, problem, missing })
      return otherwise
    } finally {
      this.running = running
    }
  }

  /** Runs code of a game outside of all steps, which submits inputs of its own. If it throws, that is a fault of `handler`. */
  play(during: string, handler: string, body: () => void): void {
    this.ask(during, handler, undefined, () => {
      try {
        body()
      } finally {
        this.running = handler // whatever its inputs have run
      }
    })
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

  /** Marks the step as failed. It can't be kept any more, even if a handler catches the error. */
  failStep(error: unknown): void {
    this.store.open = true // an amendment may have thrown
    this.stepFailure ??= { error, handler: this.running, settling: this.settling }
  }

  /**
   * Returns the ruling for a step that threw. The step is undone unless it was only a trial. `by` is the seat whose
   * action it was.
   */
  protected faulted(during: string, { error: thrown, handler, settling }: StepFailure, by?: Seat): Refusal {
    const { missing, problem } = this.store
    const error = inOurWords(thrown)
    if (missing !== undefined && error === problem && problem?.code === 'ZR_STATE_NO_ROW')
      return refuse('no-such-target', { seat: missing })
    const isStep = during !== TRIAL
    const fault = this.faults.add({ at: this.time.now, handler, during, error }, isStep)
    if (isStep) {
      this.faultRuns ??= new FaultRuns()
      this.faultRuns.add(settling ? undefined : by)
    }
    return refuse('fault', { fault })
  }
}
