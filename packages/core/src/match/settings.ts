import { RefereeError, validate } from '../kit/index.ts'
import type { RulePlan } from './plan.ts'

/**
 * A rule's settings: the schema's defaults, under those of the rulebook, under those of the match.
 * @throws ZR_SETTING_INVALID, ZR_SETTING_FIXED
 */
export function settingsOf(
  rule: Pick<RulePlan, 'name' | 'definition' | 'given'> & Partial<Pick<RulePlan, 'fixed'>>,
  ofMatch: unknown,
): unknown {
  for (const setting of Object.keys(Object(ofMatch ?? {})))
    if (rule.fixed?.has(setting)) throw new RefereeError('ZR_SETTING_FIXED', { rule: rule.name, setting })
  const outcome = settingsOrIssues(rule, { ...Object(rule.given), ...Object(ofMatch ?? {}) })
  if ('issues' in outcome)
    throw new RefereeError('ZR_SETTING_INVALID', { rule: rule.name, issues: outcome.issues })
  return outcome.value
}

/** Given settings with the schema's defaults, or what is wrong with them. */
export function settingsOrIssues(
  { name, definition }: Pick<RulePlan, 'name' | 'definition'>,
  given: object,
): { readonly value: unknown } | { readonly issues: readonly string[] } {
  return definition.settings === undefined ? { value: {} } : validate(definition.settings, given, name)
}
