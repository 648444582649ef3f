import { InvalidInput, type Seat } from '../cells/index.ts'
import { sortedJson } from '../kit/index.ts'
import type { ActionPlan } from '../plan/index.ts'
import { optionsOf } from './deciding.ts'
import type { HandlerRunner } from './handler-runner.ts'

const none: readonly unknown[] = []

/** Caches options until anything happens in the match or time passes. */
export class OptionCache {
  private readonly engine: HandlerRunner
  private known: Map<string, readonly unknown[]> | undefined
  private steps = -1
  private at = -1

  constructor(engine: HandlerRunner) {
    this.engine = engine
  }

  /**
   * An action's candidates that would be accepted from a seat now, by the ids that it knows and in an order that
   * follows from them; `part` is what the asker has chosen already. None where that names what it does not see.
   */
  of(plan: ActionPlan, seat: Seat, part: object): readonly unknown[] {
    const { engine } = this
    if (this.known === undefined || this.steps !== engine.steps || this.at !== engine.time.now) {
      this.known = new Map()
      this.steps = engine.steps
      this.at = engine.time.now
    }
    const key = JSON.stringify([plan.name, seat, part])
    const before = this.known.get(key)
    if (before !== undefined) return before
    const options = Object.freeze(this.shown(plan, seat, part))
    this.known.set(key, options)
    return options
  }

  private shown(plan: ActionPlan, seat: Seat, part: object): readonly unknown[] {
    const { engine } = this
    const chosen = plan.parsePart(part, engine, seat)
    if (chosen instanceof InvalidInput) return []
    const found = engine.ask('options', plan.options?.label ?? plan.handler.label, none, () =>
      optionsOf(engine, plan, seat, chosen),
    )
    const idOf = (table: string, inner: string): string | undefined => engine.idShown(table, inner, seat)
    return sortedJson(found.map((option) => plan.show(Object(option), idOf)))
  }
}
