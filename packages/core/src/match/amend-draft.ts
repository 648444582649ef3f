import type { Values } from '../state/index.ts'
import type { Engine } from './engine.ts'
import type { OpenDraft } from './open-draft.ts'
import type { DraftPlan, Handler } from './plan.ts'
import type { Refusal } from './ruling.ts'

/** A draft after its amendments, and what they want done if it is applied. */
export interface AmendedDraft {
  readonly settled: Values
  readonly after: readonly Handler<[], void>[]
}

const none: readonly Handler<[], void>[] = []

/** Runs the amendments of a draft; one that was redirected is judged anew for its new target, once. */
export function amendDraft(engine: Engine, plan: DraftPlan, filled: Values): Refusal | AmendedDraft {
  if (plan.amendments.length === 0) return { settled: filled, after: none }
  const first = amendOnce(engine, plan, filled)
  if ('ok' in first) return first
  // Two different targets: neither applies.
  const [target, other] = first.$targets ?? []
  if (target === undefined || other !== undefined) return closed(first)
  const second = amendOnce(engine, plan, { ...filled, target })
  return 'ok' in second ? second : closed(second)
}

const closed = (draft: OpenDraft): AmendedDraft => ({
  settled: draft.$settled(),
  after: draft.$after ?? none,
})

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
