import type { Plan } from '../plan/index.ts'
import { carryInLoops } from './apply-draft.ts'
import { decideInLoops } from './deciding.ts'
import { generatedCarry, generatedDecide } from './generated-handlers.ts'
import type { Carry, Decide } from './handler-runner.ts'
import { type Usable, usableClass } from './rule-api.ts'

/** A plan with what runs it. */
export interface BoundPlan {
  /** By the number of the input. */
  readonly decide: readonly Decide[]
  /** By the number of the draft. */
  readonly carry: readonly Carry[]
  /** By the number of a rule: the class of the API that `match.use` returns. */
  readonly used: readonly Usable[]
}

const known: WeakMap<Plan, BoundPlan> = new WeakMap()

/** Returns what runs a plan: made once, for all its matches. */
export function bindPlan(plan: Plan): BoundPlan {
  const made = known.get(plan) ?? bind(plan)
  known.set(plan, made)
  return made
}

function bind({ inputs, rules, generatesCode }: Plan): BoundPlan {
  const drafts = rules.flatMap((rule) => [...rule.drafts.values()])
  return {
    decide: [...inputs.values()].map((input) => (generatesCode ? generatedDecide(input) : decideInLoops)),
    carry: drafts.map((draft) => (generatesCode ? generatedCarry(draft) : carryInLoops)),
    used: rules.map(usableClass),
  }
}
