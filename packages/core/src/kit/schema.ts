import { RefereeError } from './errors.ts'

/** Any Standard Schema validator (standardschema.dev), such as a zod 4 schema. */
export interface Schema<In, Out> {
  readonly '~standard': {
    readonly version: 1
    readonly vendor: string
    readonly validate: (value: unknown) => unknown
    readonly types?: { readonly input: In; readonly output: Out } | undefined
  }
}

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
  whose: string,
): { readonly value: unknown } | { readonly issues: readonly string[] } {
  const outcome = schema['~standard'].validate(value)
  if (outcome instanceof Promise) throw new RefereeError('ZR_SETTING_ASYNC', { rule: whose })
  const { issues, ...rest } = outcome as Outcome
  if (issues === undefined) return { value: 'value' in rest ? rest.value : undefined }
  return {
    issues: issues.map(
      ({ message, path }) =>
        `${path?.length ? `'${path.map((step) => String(typeof step === 'object' ? step.key : step)).join('.')}': ` : ''}${message}`,
    ),
  }
}

/** Returns the keys that an object schema takes, if it lists them, as those of zod do. */
export function schemaKeys(schema: Schema<unknown, unknown>): readonly string[] | undefined {
  const { shape } = schema as { readonly shape?: unknown }
  return typeof shape === 'object' && shape !== null ? Object.keys(shape) : undefined
}
