import type { Values } from '../cells/index.ts'
import type { RulePlan } from '../plan/index.ts'
import type { HandlerRunner } from './handler-runner.ts'

/** The class of the API that `match.use(rule)` returns: the rule's calls and drafts in one match. */
export type RuleApiClass = new (engine: HandlerRunner, rule: number) => object

/**
 * Its class, made once for all matches. What the rule's calls throw ends the step even if it is caught. They are
 * methods: a call taken off its object would not know its match.
 */
export function ruleApiClass({ definition, drafts }: RulePlan): RuleApiClass {
  class Used {
    readonly $engine: HandlerRunner
    readonly $rule: number
    constructor(engine: HandlerRunner, rule: number) {
      this.$engine = engine
      this.$rule = rule
      Object.freeze(this)
    }
  }
  for (const [name, run] of Object.entries(definition.calls ?? {}))
    define(Used, name, function (this: Used, ...rest: unknown[]) {
      try {
        return run(this.$engine.scopes[this.$rule], ...rest)
      } catch (error) {
        this.$engine.failStep(error)
        throw error
      }
    })
  for (const [name, draft] of drafts)
    define(Used, name, function (this: Used, cells: Values) {
      return this.$engine.resolve(draft, cells)
    })
  return Used
}

const define = (of: RuleApiClass, name: string, value: (...args: never[]) => unknown): void => {
  Object.defineProperty(of.prototype, name, { value, enumerable: true })
}
