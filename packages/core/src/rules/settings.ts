import * as z from 'zod/mini'

// zod/mini brings a sixth of zod into a page, and no texts: each kind says what it takes.

interface Bounds {
  readonly min?: number
  readonly max?: number
}

const boundsText = ({ min, max }: Bounds): string => {
  if (min === undefined) return max === undefined ? '' : ` up to ${max}`
  return max === undefined ? ` from ${min}` : ` from ${min} to ${max}`
}
const listText = (values: readonly string[]): string =>
  [values.slice(0, -1).join(', '), values.at(-1)].filter(Boolean).join(' or ')

/** A whole number within bounds. */
export const whole = (bounds: Bounds = {}) => {
  const error = `must be a whole number${boundsText(bounds)}`
  const { min = Number.MIN_SAFE_INTEGER, max = Number.MAX_SAFE_INTEGER } = bounds
  return z.int(error).check(z.gte(min, error), z.lte(max, error))
}

/** A number from 0 to 1, in steps of a thousandth where `exact`; without 0 where `positive`. */
export const part = (how: 'exact' | 'positive') => {
  const error =
    how === 'exact' ? 'must be 0 to 1, with at most three decimals' : 'must be more than 0, up to 1'
  const least = how === 'exact' ? z.gte(0, error) : z.gt(0, error)
  const base = z.number(error).check(least, z.lte(1, error))
  return how === 'exact' ? base.check(z.multipleOf(0.001, error)) : base
}

/** True or false. */
export const yesNo = z.boolean('must be true or false')

/** One of these words. */
export const oneOf = <const V extends string>(...values: V[]) =>
  z.enum(values, `must be ${listText(values.map((value) => `'${value}'`))}`)

/** A text that is not empty. */
export const word = z.string('must be a text').check(z.minLength(1, 'must not be empty'))

/** A list of these. */
export const listOf = <K extends z.ZodMiniType>(kind: K) => z.array(kind, 'must be a list')

/** An object with these members. */
export const fields = <S extends z.core.$ZodLooseShape>(members: S) => z.object(members, 'must be an object')

/** The same kind, or null. */
export const orNull = z.nullable

/** A kind with its default. */
export const setting = z._default

/** An object whose members have defaults of their own. */
export const within = <S extends z.core.$ZodLooseShape>(members: S) =>
  z.prefault(fields(members), {} as never)

/** One kind or the other. */
export const either = <A extends z.ZodMiniType, B extends z.ZodMiniType>(one: A, other: B) =>
  z.union([one, other], 'must be one of the forms that its page shows')

/** What must hold of a value, and what is said where it does not. */
export const holds = z.refine

/** Nothing twice in a list, by what names each. */
export const once = <V>(nameOf: (each: V) => string, error: string) =>
  z.refine<readonly V[]>((list) => new Set(list.map(nameOf)).size === list.length, error)
