import { z } from 'zod'
import type { SettingField, SettingFields } from '../client/setting-field.ts'
import type { HostedMatch } from '../matches/index.ts'

/** Returns the settings of a match that may be changed while it runs. */
export function settingFields({ book, match }: HostedMatch): SettingFields {
  const { settings, with: taken = [] } = match.snapshot()
  const rules = book?.planWith(taken).rules ?? []
  const fields = rules.map(({ name, fixed, definition }) => {
    const now = Object(settings[name])
    const known = Object.entries(propertiesOf(definition.settings)).filter(([setting]) => !fixed.has(setting))
    return [name, Object.fromEntries(known.map(([setting, kind]) => [setting, fieldOf(kind, now[setting])]))]
  })
  return Object.fromEntries(fields.filter(([, each]) => Object.keys(Object(each)).length > 0))
}

type Property = z.core.JSONSchema._JSONSchema

/** Of a schema that is none of zod's nobody knows. */
function propertiesOf(schema: unknown): { readonly [name: string]: Property } {
  if (!(schema instanceof z.core.$ZodType)) return {}
  return z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }).properties ?? {}
}

function fieldOf(kind: Property, now: unknown): SettingField {
  const { type, enum: values, minimum, maximum } = typeof kind === 'boolean' ? {} : kind
  return {
    ...(typeof type === 'string' && { type }),
    ...(values !== undefined && { enum: values }),
    ...(isBound(minimum) && { minimum }),
    ...(isBound(maximum) && { maximum }),
    now: now ?? null,
  }
}

/** Every whole number is a safe integer: that need not be said. */
const isBound = (bound: number | undefined): bound is number =>
  bound !== undefined && Math.abs(bound) < Number.MAX_SAFE_INTEGER
