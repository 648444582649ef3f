import type { Values } from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { RulePlan } from '../plan/index.ts'
import type { HandlerRunner } from './handler-runner.ts'

/** The class of the API that `match.use(rule)` returns: the rule's calls and drafts in one match. */
export type RuleApiClass = new (engine: HandlerRunner, rule: number) => object

/**
 * Its class, made once for all matches. What the rule's calls throw ends the step even if it is caught. They are
 * methods: a call taken off its object would not know its match.
 */
export function ruleApiClass({ name: rule, definition, drafts }: RulePlan): RuleApiClass {
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
    define(Used, name, function (this: Used | undefined, ...rest: unknown[]) {
      if (this === undefined) throw alone(rule, name)
      try {
        return run(this.$engine.scopes[this.$rule], ...rest)
      } catch (error) {
        this.$engine.failStep(error)
        throw error
      }
    })
  for (const [name, draft] of drafts)
    define(Used, name, function (this: Used | undefined, cells: Values) {
      if (this === undefined) throw alone(rule, name)
      return this.$engine.resolve(draft, cells)
    })
  return Used
}

const alone = (rule: string, call: string): RefereeError =>
  new RefereeError('ZR_MATCH_MISUSED', {
    what: `'${call}' of rule '${rule}' was called by itself`,
    fix: `Call it on what match.use gives: match.use(${rule}).${call}(…)`,
  })

const define = (of: RuleApiClass, name: string, value: (...args: never[]) => unknown): void => {
  Object.defineProperty(of.prototype, name, { value, enumerable: true })
}
