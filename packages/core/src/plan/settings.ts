import { frozenCopy, RefereeError, schemaKeys, unknownAmong, validate } from '../kit/index.ts'
import type { Plan, RulePlan } from './plan.ts'

type Settled = { readonly value: unknown } | { readonly issues: readonly string[] }

/**
 * A rule's settings: the schema's defaults, under those of the rulebook, under those of the match.
 * @throws ZR_SETTING_INVALID, ZR_SETTING_FIXED
 */
export function settingsOf(
  rule: Pick<RulePlan, 'name' | 'definition' | 'given' | 'config'> & Partial<Pick<RulePlan, 'fixed'>>,
  ofMatch: unknown,
): unknown {
  const own = Object(ofMatch ?? {})
  for (const setting of Object.keys(own))
    if (rule.fixed?.has(setting)) throw new RefereeError('ZR_SETTING_FIXED', { rule: rule.name, setting })
  // Options that are not settings, such as conditions, are next to them in the rulebook.
  const options = Object.keys(Object(rule.config))
  const ofBook = Object.fromEntries(
    Object.entries(Object(rule.given)).filter(([name]) => !options.includes(name)),
  )
  const outcome = settingsOrIssues(rule, { ...Object(rule.given), ...own }, { ...ofBook, ...own }, options)
  if ('issues' in outcome)
    throw new RefereeError('ZR_SETTING_INVALID', { rule: rule.name, issues: outcome.issues })
  return frozenCopy(outcome.value)
}

/** All settings of a match, by rule: what it does not change itself it shares with others. */
export function settingsOfAll(
  { rules }: Pick<Plan, 'rules'>,
  ofMatch: { readonly [rule: string]: unknown },
): { readonly [rule: string]: unknown } {
  return Object.freeze(
    Object.fromEntries(
      rules.map((rule) => [
        rule.name,
        ofMatch[rule.name] === undefined ? rule.usual : settingsOf(rule, ofMatch[rule.name]),
      ]),
    ),
  )
}

/** Returns the given settings with the schema's defaults, or the problems with them. `asked` has only known keys. */
export function settingsOrIssues(
  { name, definition: { settings } }: Pick<RulePlan, 'name' | 'definition'>,
  given: object,
  asked: object,
  options: readonly string[] = [],
): Settled {
  const known = settings === undefined ? [] : schemaKeys(settings)
  const unknown = known === undefined ? [] : unknownAmong(namedIn(asked), 'setting', known, options)
  if (unknown.length > 0) return { issues: unknown }
  return settings === undefined ? { value: {} } : validate(settings, given, name)
}

/** Undefined means not given: a record leaves it out. */
const namedIn = (asked: object): string[] =>
  Object.entries(asked).flatMap(([name, value]) => (value === undefined ? [] : name))
