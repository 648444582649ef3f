import type { Seat, Values } from '../state/index.ts'
import { closeDraft, openDraft } from './amounts.ts'
import type { Engine } from './engine.ts'
import type { DraftPlan, Handler } from './plan.ts'
import type { Refusal } from './ruling.ts'

/** A draft after its amendments, and what they want done if it is applied. */
export interface AmendedDraft {
  readonly settled: Values
  readonly after: readonly Handler<[], void>[]
}
interface Once extends AmendedDraft {
  readonly target: Seat | undefined
}

/** Runs the amendments of a draft; one that was redirected is judged anew for its new target, once. */
export function amendDraft(engine: Engine, plan: DraftPlan, settled: Values): Refusal | AmendedDraft {
  if (plan.amendments.length === 0) return { settled, after: [] }
  const first = amendOnce(engine, plan, settled)
  if ('ok' in first || first.target === undefined) return first
  return amendOnce(engine, plan, { ...settled, target: first.target })
}

function amendOnce(engine: Engine, plan: DraftPlan, settled: Values): Refusal | Once {
  const after: Handler<[], void>[] = []
  const targets = new Set<Seat>()
  let rule = 0
  const open = openDraft(plan, settled, {
    whenApplied: (run: Handler<[], void>['run']) =>
      after.push({ rule, label: `${plan.name} whenApplied`, run }),
    ...('target' in plan.cells ? { redirect: (target: Seat) => targets.add(target) } : {}),
  })
  const { store } = engine
  const mayWrite = store.open
  store.open = false // an amendment that writes would make the result depend on the order of rules
  for (const amendment of plan.amendments) {
    rule = amendment.rule
    const refusal = engine.run(amendment, open.draft)
    if (refusal) {
      store.open = mayWrite
      return refusal
    }
  }
  store.open = mayWrite
  // Two different targets: neither applies.
  const [target] = targets.size === 1 ? targets : []
  return { settled: closeDraft(settled, open), after, target }
}
