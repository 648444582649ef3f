import type { Values } from '../state/index.ts'
import type { Engine } from './engine.ts'
import { OpenDraft } from './open-draft.ts'
import type { DraftPlan } from './plan.ts'
import type { Refusal } from './ruling.ts'

/** Runs the amendments of a draft; one that was redirected is judged anew for its new target, once. */
export function amendDraft(engine: Engine, plan: DraftPlan, filled: Values): Refusal | OpenDraft {
  const first = amendOnce(engine, plan, filled)
  if (!(first instanceof OpenDraft) || first.$targets === undefined) return first
  // Two different targets: neither applies.
  const [target, other] = first.$targets
  return other === undefined ? amendOnce(engine, plan, { ...filled, target }) : first
}

function amendOnce(engine: Engine, plan: DraftPlan, filled: Values): Refusal | OpenDraft {
  const draft = new plan.Draft(plan.name, filled)
  const { store } = engine
  const mayWrite = store.open
  store.open = false // an amendment that writes would make the result depend on the order of rules
  for (const amendment of plan.amendments) {
    draft.$rule = amendment.rule
    const refusal = engine.run(amendment, draft)
    if (refusal) {
      store.open = mayWrite
      return refusal
    }
  }
  store.open = mayWrite
  return draft
}
