import * as z from 'zod/mini'

// zod/mini adds a sixth of zod's size to a page, and no texts. So each kind has its own text.

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

/** Returns a kind: a whole number, within bounds if there are any. Default bounds: those of safe integers. */
export const whole = (bounds: Bounds = {}) => {
  const error = `must be a whole number${boundsText(bounds)}`
  const { min = Number.MIN_SAFE_INTEGER, max = Number.MAX_SAFE_INTEGER } = bounds
  return z.int(error).check(z.gte(min, error), z.lte(max, error))
}

/** Returns a kind: a part of a whole, from 0 to 1. With `exact` in thousandths, with `positive` without 0. */
export const part = (how: 'exact' | 'positive') => {
  const error =
    how === 'exact' ? 'must be 0 to 1, with at most three decimals' : 'must be more than 0, up to 1'
  const least = how === 'exact' ? z.gte(0, error) : z.gt(0, error)
  const base = z.number(error).check(least, z.lte(1, error))
  return how === 'exact' ? base.check(z.multipleOf(0.001, error)) : base
}

/** A kind: true or false. */
export const yesNo = z.boolean('must be true or false')

/** Returns a kind: one of these words. */
export const oneOf = <const V extends string>(...values: V[]) =>
  z.enum(values, `must be ${listText(values.map((value) => `'${value}'`))}`)

type Amounts<N extends string> = Partial<Record<N, number>>
/** A kind with a default: it may be left out. */
type Omissible<V> = z.ZodMiniType<
  V,
  V | undefined,
  z.core.$ZodTypeInternals<V, V | undefined> & { optin: 'defaulted' }
>

/** Returns a kind: an object with a whole number from 0 on for some of these names. Default: for none. */
export const amountsOf = <const N extends string>(...names: N[]): Omissible<Amounts<N>> => {
  const known = names.length === 0 ? 'nothing in this rulebook' : listText(names)
  const numbers = z.partialRecord(z.enum(names, `may name ${known}`), whole({ min: 0 }), 'must be an object')
  return z._default(numbers, {} as z.output<typeof numbers>)
}

/** A kind: a text that is not empty. */
export const word = z.string('must be a text').check(z.minLength(1, 'must not be empty'))

/** Returns a kind: a list of these. */
export const listOf = <K extends z.ZodMiniType>(kind: K) => z.array(kind, 'must be a list')

/**
 * Returns a kind: an object with these members. With it a rule declares its settings.
 *
 * @example
 * ```ts
 * const settings = fields({ length: setting(whole({ min: 1 }), 60_000), lamps: setting(yesNo, true) })
 * ```
 */
export const fields = <S extends z.core.$ZodLooseShape>(members: S) => z.object(members, 'must be an object')

/** Returns the kind, which may be null, too. */
export const orNull = z.nullable

/** Returns the kind with its default. */
export const setting = z._default

/** Returns a kind: an object that may be left out, since its members have defaults of their own. */
export const within = <S extends z.core.$ZodLooseShape>(members: S) =>
  z.prefault(fields(members), {} as never)

/** Returns a kind: one of these two. */
export const either = <A extends z.ZodMiniType, B extends z.ZodMiniType>(one: A, other: B) =>
  z.union([one, other], 'must be one of the forms that its page shows')

/** Returns what must hold of a value, for `check`, with the text for a value of which it does not. */
export const must = z.refine

/** Returns what must hold of a list, for `check`: nothing is in it twice, by what names each. */
export const once = <V>(nameOf: (each: V) => string, error: string) =>
  z.refine<readonly V[]>((list) => new Set(list.map(nameOf)).size === list.length, error)
