import type { Seat, Values } from '../cells/index.ts'
import { Engine, interpretPlan, type Works } from '../engine/index.ts'
import type { Answer, DraftPlan, EventPlan, Handler, InputPlan, Plan, TimerPlan } from '../plan/index.ts'
import { OpenDraft } from '../plan/index.ts'
import type { PolicyRow, RowShape } from '../rows/index.ts'
import { allowed, type Ruling, type Tags } from '../rule/index.ts'
import type { Ran, TimerName } from './deeds.ts'
import { readingShape, tellReads } from './reading-rows.ts'
import { TracedUndo } from './traced-undo.ts'
import { Tracer } from './tracer.ts'

/** An engine that notes what runs in it, and what that does. It decides the same. */
export class TracedEngine extends Engine {
  /** Nothing while the match begins. */
  readonly tracer: Tracer | undefined
  /** Settings that were read since the match began, such as `rounds.length`; until they are changed. */
  readonly settingsRead: ReadonlySet<string>
  private readonly fires: ReadonlyMap<object, TimerPlan>

  constructor(plan: Plan, key: Uint8Array, settings: { readonly [rule: string]: unknown }, given: Works) {
    let failed = (_error: unknown): void => {}
    const onFault: Works['onFault'] = (fault) => {
      failed(fault.error)
      given.onFault?.(fault)
    }
    super(plan, key, settings, { ...given, onFault }, interpretPlan(plan))
    const settingsRead = new Set<string>()
    this.settingsRead = settingsRead
    this.settings = readingSettings(this.settings, settingsRead)
    const tracer = new Tracer()
    this.tracer = tracer
    this.fires = new Map(plan.timers.flatMap((timer) => (timer.fire ? [[timer.fire, timer]] : [])))
    this.store.undo = new TracedUndo(tracer)
    tellReads(this.store, (row, cell, value) => tracer.reads(row, cell, value))
    failed = (error) => {
      const last = tracer.steps.at(-1)
      if (last !== undefined) last.error ??= error
    }
  }

  override step(during: string, body: () => Answer): Ruling {
    return this.traced(during, undefined, () => super.step(during, body))
  }

  override perform<A, B>(during: string, handler: Handler<[A, B], Answer>, a: A, b: B): Ruling {
    const timer = this.fires?.get(handler)
    return this.traced(during, timer && { name: timer.whole, key: String(a) }, () =>
      super.perform(during, handler, a, b),
    )
  }

  override decide(plan: InputPlan, seat: Seat | undefined, input: unknown, tags: Tags | undefined): Ruling {
    return this.traced(plan.name, undefined, () => super.decide(plan, seat, input, tags))
  }

  override run<R>(handler: Handler<[], R>): R
  override run<A, R>(handler: Handler<[A], R>, a: A): R
  override run<A, B, R>(handler: Handler<[A, B], R>, a: A, b: B): R
  override run(handler: Handler<[unknown?, unknown?], unknown>, a?: unknown, b?: unknown): unknown {
    const { tracer } = this
    if (tracer === undefined || tracer.isIdle) return super.run(handler, a, b)
    const before = a instanceof OpenDraft ? lookAt(a) : undefined
    const ran = tracer.ran(handler, a, b)
    try {
      ran.answer = super.run(handler, a, b)
    } catch (error) {
      ran.hasThrown = true
      throw error
    } finally {
      if (before !== undefined) {
        const after = lookAt(a as OpenDraft)
        ran.amended = {
          before: before.values,
          after: after.values,
          redirected: after.targets > before.targets,
          adds: after.adds > before.adds,
        }
      }
      tracer.leave()
    }
    return ran.answer
  }

  override emit(event: EventPlan, cells: Values): void {
    const { tracer } = this
    const [queued, pending] = [this.queue.length, this.pending.length]
    super.emit(event, cells)
    if (tracer === undefined || tracer.isIdle) return
    const filled =
      this.queue.length > queued
        ? this.queue.at(-1)?.cells
        : this.pending.length > pending
          ? this.pending.at(-1)?.cells
          : undefined
    tracer.raise(event, filled ?? event.withDefaults(cells))
  }

  override resolve(plan: DraftPlan, given: Values): Ruling {
    const { tracer } = this
    if (tracer === undefined || tracer.isIdle) return super.resolve(plan, given)
    const resolved = tracer.resolved(plan, given)
    try {
      const ruling = super.resolve(plan, given)
      resolved.answer = ruling
      return ruling
    } finally {
      tracer.leave()
    }
  }

  /** A trial keeps nothing: what it did is nobody's cause. */
  override trial(body: () => Answer): Ruling {
    const { tracer } = this
    return tracer === undefined ? super.trial(body) : tracer.quietly(() => super.trial(body))
  }

  /** Tries an input and notes how it went, as a step of its own that is not kept. */
  tried(plan: InputPlan, seat: Seat | undefined, input: unknown): Ruling {
    return this.traced(plan.name, undefined, () =>
      super.trial(() => this.decideNow(plan, seat, input, undefined)),
    )
  }

  /** Asks who sees a row, in a step of its own, and returns what was asked. Nothing if it cannot be asked. */
  sightOf(row: PolicyRow): Ran | undefined {
    this.traced('sight', undefined, () =>
      this.ask('sight', 'sight', allowed, () => {
        this.sights.answer(row)
        return allowed
      }),
    )
    const [asked] = this.tracer?.steps.at(-1)?.did ?? []
    return asked?.what === 'ran' ? asked : undefined
  }

  protected override shapeFor(shape: RowShape): RowShape {
    return readingShape(shape)
  }

  private traced(during: string, timer: TimerName | undefined, run: () => Ruling): Ruling {
    const { tracer } = this
    if (tracer === undefined) return run()
    const step = tracer.begin(during, this.time.now, timer)
    let ruling: Ruling | undefined
    try {
      ruling = run()
      return ruling
    } finally {
      tracer.end(step, ruling)
    }
  }
}

const lookAt = (draft: OpenDraft) => ({
  values: settled(draft),
  targets: draft.$targets?.size ?? 0,
  adds: draft.$after?.length ?? 0,
})

/** A draft's values as amended so far; those that it began with where they come to no number yet. */
function settled(draft: OpenDraft): Values {
  try {
    return draft.$settled()
  } catch {
    return draft.$filled
  }
}

/** The settings, which note by rule and name what is read of them. */
function readingSettings(
  settings: { readonly [rule: string]: unknown },
  read: Set<string>,
): { readonly [rule: string]: unknown } {
  return Object.fromEntries(
    Object.entries(settings).map(([rule, own]) => [
      rule,
      typeof own !== 'object' || own === null
        ? own
        : new Proxy(own, {
            get(target, name, receiver): unknown {
              if (typeof name === 'string') read.add(`${rule}.${name}`)
              return Reflect.get(target, name, receiver)
            },
          }),
    ]),
  )
}
