import { frozenCopy } from '../kit/index.ts'
import { settingsOrIssues } from '../plan/index.ts'
import { type Refusal, refuse } from '../rule/index.ts'
import type { Engine } from './engine.ts'

/**
 * Changes settings of a rule while the match runs. The rule clamps values that exceed its new limits, and everything
 * settles again. Running timers keep their due times.
 */
export function changeSettings(engine: Engine, rule: string, changes: object): Refusal | void {
  const { rules } = engine.plan
  const plan = rules.find(({ name }) => name === rule)
  if (plan === undefined) return refuse('bad-input', { issues: [`there is no rule '${rule}'`] })
  const kept = Object.keys(changes).find((setting) => plan.fixed.has(setting))
  if (kept !== undefined)
    return refuse('bad-input', { issues: [`'${kept}' decides who sees what and cannot change in a match`] })
  const outcome = settingsOrIssues(plan, { ...Object(engine.settings[rule]), ...changes }, changes)
  if ('issues' in outcome) return refuse('bad-input', { issues: outcome.issues })
  engine.changeSettings(Object.freeze({ ...engine.settings, [rule]: frozenCopy(outcome.value) }))
  engine.store.woken = -1
  for (const { changed } of rules) if (changed !== undefined) engine.run(changed, rule)
}
