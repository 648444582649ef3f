import type { Plan } from '../plan/index.ts'
import { interpretDraft } from './apply-draft.ts'
import { interpretInput } from './deciding.ts'
import { generateApplyDraft, generateDecide } from './generated-handlers.ts'
import type { ApplyDraft, Decide } from './handler-runner.ts'
import { type RuleApiClass, ruleApiClass } from './rule-api.ts'

/** A plan with what runs it. */
export interface BoundPlan {
  /** By the number of the input. */
  readonly decide: readonly Decide[]
  /** By the number of the draft. */
  readonly applyDraft: readonly ApplyDraft[]
  /** By the number of a rule: the class of the API that `match.use` returns. */
  readonly used: readonly RuleApiClass[]
}

const known: WeakMap<Plan, BoundPlan> = new WeakMap()

/** Returns what runs a plan: made once, for all its matches. */
export function bindPlan(plan: Plan): BoundPlan {
  const made = known.get(plan) ?? bind(plan)
  known.set(plan, made)
  return made
}

/** The same by the loops, whose every handler passes `HandlerRunner.run`. */
export const interpretPlan = (plan: Plan): BoundPlan => bind({ ...plan, generatesCode: false })

function bind({ inputs, rules, generatesCode }: Plan): BoundPlan {
  const drafts = rules.flatMap((rule) => [...rule.drafts.values()])
  return {
    decide: [...inputs.values()].map((input) => (generatesCode ? generateDecide(input) : interpretInput)),
    applyDraft: drafts.map((draft) => (generatesCode ? generateApplyDraft(draft) : interpretDraft)),
    used: rules.map(ruleApiClass),
  }
}
