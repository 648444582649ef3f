import type { Values } from '../state/index.ts'
import type { Engine } from './engine.ts'
import type { RulePlan } from './plan.ts'

/** What `match.use(rule)` gives: the rule's calls and drafts. What they throw ends the step even if it is caught. */
export function usableBy(engine: Engine, { index, definition, drafts }: RulePlan): object {
  const scope = engine.scopes[index]
  const guarded =
    (run: (match: unknown, ...rest: unknown[]) => unknown) =>
    (...rest: unknown[]) => {
      try {
        return run(scope, ...rest)
      } catch (error) {
        engine.doomed(error)
        throw error
      }
    }
  return Object.freeze({
    ...Object.fromEntries(Object.entries(definition.calls ?? {}).map(([name, run]) => [name, guarded(run)])),
    ...Object.fromEntries(
      [...drafts].map(([name, draft]) => [name, (cells: Values) => engine.resolve(draft, cells)]),
    ),
  })
}
