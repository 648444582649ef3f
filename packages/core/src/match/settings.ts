import { RefereeError } from '../kit/index.ts'
import type { RulePlan } from './plan.ts'
import type { Schema } from './spec.ts'

interface Issue {
  readonly message: string
  readonly path?: readonly (PropertyKey | { readonly key: PropertyKey })[]
}
type Outcome =
  | { readonly value: unknown; readonly issues?: undefined }
  | { readonly issues: readonly Issue[] }

/** Runs a Standard Schema; its issues as sentences. A schema that answers later is refused, since nothing in a match waits. */
export function validate(
  schema: Schema<unknown, unknown>,
  value: unknown,
  rule: string,
): { readonly value: unknown } | { readonly issues: readonly string[] } {
  const outcome = schema['~standard'].validate(value)
  if (outcome instanceof Promise) throw new RefereeError('ZR_SETTING_ASYNC', { rule })
  const { issues, ...rest } = outcome as Outcome
  if (issues === undefined) return { value: 'value' in rest ? rest.value : undefined }
  return {
    issues: issues.map(
      ({ message, path }) =>
        `${path?.length ? `'${path.map((step) => String(typeof step === 'object' ? step.key : step)).join('.')}': ` : ''}${message}`,
    ),
  }
}

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
