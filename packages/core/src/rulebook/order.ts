import { RefereeError } from '../kit/index.ts'
import { definitionOf, type RuleLike } from '../rule/index.ts'

/** The rules in the order in which they were listed, but each after those it needs or knows. */
export function orderRules(
  rulebook: string,
  rules: readonly RuleLike[],
  available: readonly RuleLike[],
): RuleLike[] {
  const byName = new Map<string, RuleLike>()
  for (const rule of rules) {
    if (byName.has(rule.name)) throw new RefereeError('ZR_RULEBOOK_TWO_RULES', { rulebook, rule: rule.name })
    byName.set(rule.name, rule)
  }
  for (const rule of available) if (!byName.has(rule.name)) byName.set(rule.name, rule)

  const ordered: RuleLike[] = []
  const path: string[] = []
  const visit = (rule: RuleLike): void => {
    if (ordered.includes(rule)) return
    if (path.includes(rule.name))
      throw new RefereeError('ZR_RULEBOOK_CYCLE', {
        rulebook,
        path: [...path.slice(path.indexOf(rule.name)), rule.name],
      })
    path.push(rule.name)
    const { needs = [], knows = [] } = definitionOf(rule)
    for (const { name } of needs) {
      const needed = byName.get(name)
      if (needed === undefined)
        throw new RefereeError('ZR_RULEBOOK_MISSING_NEED', { rulebook, rule: rule.name, need: name })
      visit(needed)
    }
    for (const { name } of knows) {
      const known = byName.get(name)
      if (known !== undefined) visit(known)
    }
    path.pop()
    ordered.push(rule)
  }
  for (const rule of byName.values()) visit(rule)
  return ordered
}
