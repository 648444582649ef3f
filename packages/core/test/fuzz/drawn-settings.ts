import fc from 'fast-check'
import { z } from 'zod'

/** Which kind of value of which setting is drawn, and which value of it: numbers that are taken modulo what there is. */
export interface Draw {
  readonly choice: number
  readonly value: number
}
const any = fc.noBias(fc.nat(100_000))
export const draws: fc.Arbitrary<readonly Draw[]> = fc.array(fc.record({ choice: any, value: any }), {
  minLength: 10,
  maxLength: 90,
  size: 'max',
})
interface JsonSchema {
  readonly enum?: readonly unknown[]
  readonly type?: string
  readonly anyOf?: readonly JsonSchema[]
  readonly minimum?: number
  readonly maximum?: number
  readonly propertyNames?: JsonSchema
}
/** Small numbers and times: what a match of a minute can tell apart. */
const NUMBERS = [0, 1, 2, 3, 50, 400, 1500, 4000]

/** Numbers of things: thousands of them would only be slow. */
const things = new Set(['errands.each', 'errands.atOnce', 'rounds.count', 'scores.top'])

/** Returns the values that a setting may take here; none if it is a list, or an object of anything but amounts. */
function valuesOf({ enum: named, type, anyOf, propertyNames, ...rest }: JsonSchema): readonly unknown[] {
  const { minimum = 0, maximum = 9000 } = rest
  if (named !== undefined) return named
  if (propertyNames?.enum !== undefined)
    return propertyNames.enum.flatMap((name) => [0, 1, 2].map((n) => ({ [String(name)]: n })))
  if (anyOf !== undefined) return anyOf.flatMap(valuesOf)
  if (type === 'boolean') return [true, false]
  if (type === 'null') return [null]
  return type === 'integer' ? NUMBERS.filter((n) => n >= minimum && n <= maximum) : []
}

/** What a value counts as: numbers are one. */
const kindOf = (value: unknown): string => (typeof value === 'number' ? 'number' : String(value))

/** How often each value of a setting was drawn, such as `idle.whenIdle leave`. */
export const drawn: Map<string, number> = new Map()
const known: Map<unknown, readonly Choice[]> = new Map()

/** Returns every kind of value of every setting that a match of this rulebook may change. */
export const choicesOf = (book: any): readonly Choice[] => book.plan.rules.flatMap(choicesOfRule)

interface Choice {
  readonly key: string
  readonly rule: string
  readonly setting: string
  readonly values: readonly unknown[]
}
function choicesOfRule({ name: rule, definition: { settings }, fixed }: any): readonly Choice[] {
  const cached = known.get(settings)
  if (settings === undefined || cached !== undefined) return cached ?? []
  const { properties = {} } = z.toJSONSchema(settings, { io: 'input', unrepresentable: 'any' }) as any
  const all = Object.entries<JsonSchema>(properties).flatMap(([setting, schema]) => {
    const most = things.has(`${rule}.${setting}`) ? 3 : Number.POSITIVE_INFINITY
    const values = fixed.has(setting) ? [] : valuesOf(schema).filter((each) => !(Number(each) > most))
    return [...new Set(values.map(kindOf))].map((kind) => ({
      key: `${rule}.${setting} ${kind}`,
      rule,
      setting,
      values: values.filter((each) => kindOf(each) === kind),
    }))
  })
  known.set(settings, all)
  return all
}

/** Returns the settings of a match of this rulebook that were drawn. */
export function settingsOf(book: any, all: readonly Draw[]): any {
  const choices = choicesOf(book)
  const given: any = {}
  for (const { choice, value } of all) {
    const { key, rule, setting, values } = choices[choice % choices.length] as Choice
    drawn.set(key, (drawn.get(key) ?? 0) + 1)
    given[rule] = { ...given[rule], [setting]: values[value % values.length] }
  }
  return given
}
