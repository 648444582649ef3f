import type { Values } from '../cells/index.ts'
import type { Answer, DraftPlan } from '../plan/index.ts'
import { OpenDraft } from '../plan/index.ts'
import { type Refusal, refuse } from '../rule/index.ts'
import type { ApplyDraft, HandlerRunner } from './handler-runner.ts'

/** Amends a draft and carries it out. See generated-handlers.ts for the same as code made for one draft. */
export const interpretDraft: ApplyDraft = (engine, plan, filled) => {
  const beyond = beyondBounds(plan, filled)
  if (beyond !== undefined) return beyond
  if (plan.amendments.length === 0) return engine.run(plan.apply, filled)
  const amended = amendDraft(engine, plan, filled)
  if (!(amended instanceof OpenDraft)) return amended
  return andAfter(engine, amended, engine.run(plan.apply, amended.$settled()))
}

/** Runs the amendments of a draft; one that was redirected is judged again for its new target, once. */
export function amendDraft(engine: HandlerRunner, plan: DraftPlan, filled: Values): Refusal | OpenDraft {
  const first = amendOnce(engine, plan, filled)
  return first instanceof OpenDraft && first.$targets !== undefined ? redirected(engine, plan, first) : first
}

export function redirected(engine: HandlerRunner, plan: DraftPlan, draft: OpenDraft): Refusal | OpenDraft {
  // Amendments chose two different targets, so neither applies.
  const [target, other] = draft.$targets ?? []
  return other === undefined ? amendOnce(engine, plan, { ...draft.$filled, target }) : draft
}

/** Adds the work that amendments asked for after the draft has been applied. */
export function andAfter(engine: HandlerRunner, { $after }: OpenDraft, answer: Answer): Answer {
  if ($after !== undefined && (answer === undefined || (answer.ok && answer.idle === undefined)))
    for (const after of $after) engine.run(after)
  return answer
}

/** An amount that was given beyond its bounds. */
export function beyondBounds({ bounded }: DraftPlan, filled: Values): Refusal | undefined {
  for (const { name, cell } of bounded) {
    const problem = cell.problem(filled[name])
    if (problem !== undefined) return refuse('bad-input', { issues: [`'${name}' ${problem}`] })
  }
  return undefined
}

function amendOnce(engine: HandlerRunner, plan: DraftPlan, filled: Values): Refusal | OpenDraft {
  const draft = new plan.Draft(plan.name, filled)
  const { store } = engine
  const mayWrite = store.open
  store.open = false // an amendment that writes would make the result depend on the order of rules
  for (const amendment of plan.amendments) {
    draft.$rule = amendment.rule
    const refusal = engine.run(amendment, draft)
    if (refusal !== undefined) {
      store.open = mayWrite
      return refusal
    }
  }
  store.open = mayWrite
  return draft
}
