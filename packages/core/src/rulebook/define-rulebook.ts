import { assertOptions, generatesCode, RefereeError } from '../kit/index.ts'
import { compilePlan, type Plan } from '../plan/index.ts'
import type { RuleLike, Spec, SpecOf } from '../rule/index.ts'
import { conditionsOf, phases, roster, rounds, verdict } from '../rules/index.ts'
import { orderRules } from './order.ts'
import { outlineOf } from './outline.ts'

/** Roster and phases are in every rulebook, listed or not. */
type InEveryBook = SpecOf<typeof roster> | SpecOf<typeof phases>
type Called<S extends Spec, P extends 'actions' | 'settings'> = S extends Spec
  ? `${S['name']}.${keyof S[P] & string}`
  : never
type ActionName<S extends Spec> = Called<S, 'actions'>
type SettingName<S extends Spec> = Called<S, 'settings'>
type Lacking<S extends Spec, All extends Spec> = Exclude<S['needs'], All['name']>
type Checked<R, All extends Spec> =
  SpecOf<R> extends infer S extends Spec
    ? [Lacking<S, All>] extends [never]
      ? R
      : `rule '${S['name']}' needs '${Lacking<S, All>}': add it to rules`
    : never

/** Settings by rule, under a name. */
export type Presets = { readonly [preset: string]: { readonly [rule: string]: object } }

/** Everything that defines a mode, ready to run. All its matches share it. */
export interface Rulebook<S extends Spec = Spec, O extends Spec = never> {
  /** Its name, which records and snapshots carry. */
  readonly name: string
  /** Without any of the optional rules. */
  readonly plan: Plan
  /** Its optional rules (expansions): a match takes any of them. */
  readonly optional: readonly O['name'][]
  /** Settings under a name, by rule. */
  readonly presets: Presets
  /**
   * Returns the rulebook with these optional rules; compiled once for each choice. @throws
   * ZR_RULEBOOK_UNKNOWN_OPTION, ZR_RULEBOOK_MISSING_NEED
   */
  planWith(optional: readonly string[]): Plan
  /** Known to types only. */
  readonly specs?: { readonly is: S; readonly optional: O }
}

/** A rulebook whose types are not known, as hosts and tools take it. */
export type AnyRulebook = Pick<Rulebook, 'name' | 'plan' | 'planWith' | 'presets'> & {
  readonly optional: readonly string[]
}

const MAX_SEATS = 1000

/**
 * Defines a mode: its name, how many seats it takes, and its rules in order. Rules that others need are put first.
 * `roster` and `phases` are always included; list them only to change their settings.
 *
 * @throws ZR_RULEBOOK_TWO_RULES, ZR_RULEBOOK_MISSING_NEED, ZR_RULEBOOK_CYCLE, ZR_RULEBOOK_BAD_SEATS, ZR_RULEBOOK_NO_TIME_CONDITION, ZR_RULEBOOK_UNKNOWN_NAME, ZR_OPTION_UNKNOWN, ZR_SETTING_INVALID, ZR_RULE_UNKNOWN_HANDLER, ZR_RULE_UNKNOWN_GATE
 */
export function defineRulebook<
  const R extends readonly RuleLike[],
  const O extends readonly RuleLike[] = [],
>(book: {
  readonly name: string
  readonly seats: { readonly min: number; readonly max: number }
  readonly rules: { readonly [I in keyof R]: Checked<R[I], SpecOf<R[number]> | InEveryBook> }
  /** Expansions: a match takes some of them, `beginMatch(book, { with: ['tolls'] })`. */
  readonly optional?: { readonly [I in keyof O]: Checked<O[I], SpecOf<(R | O)[number]> | InEveryBook> }
  /** Settings under names, for `beginMatch(book, { preset: 'short' })`. */
  readonly presets?: Presets
  /** Actions whose options are in each seat's view besides those that say so themselves: `['turns.pass']`. */
  readonly offers?: readonly ActionName<SpecOf<R[number]> | InEveryBook>[]
  /** Settings that everyone sees, in `view.rule.settings`: `['rounds.length']`. */
  readonly shows?: readonly SettingName<SpecOf<R[number]> | InEveryBook>[]
  /**
   * If true, code is made from text, which is faster. Default: true if that is allowed; on a page with a strict
   * content policy it is not.
   */
  readonly generateCode?: boolean
}): Rulebook<SpecOf<R[number]> | InEveryBook, SpecOf<O[number]>> {
  assertOptions('defineRulebook', book, [
    'name',
    'seats',
    'rules',
    'optional',
    'presets',
    'offers',
    'shows',
    'generateCode',
  ])
  const {
    name,
    seats: { min, max },
    presets = {},
    offers = [],
    shows = [],
  } = book
  if (!Number.isInteger(min) || !Number.isInteger(max) || min < 1 || max < min || max > MAX_SEATS)
    throw new RefereeError('ZR_RULEBOOK_BAD_SEATS', { rulebook: name, min, max })
  const generated = book.generateCode ?? generatesCode()
  const expansions = (book.optional ?? []) as readonly RuleLike[]
  const known = expansions.map((rule) => rule.name)
  const compiled = (taken: readonly RuleLike[]): Plan => {
    const rules = orderRules(name, [...(book.rules as readonly RuleLike[]), ...taken], [roster, phases])
    assertDecidable(name, rules)
    return compilePlan(name, { min, max }, rules, outlineOf, { generated, offers, shows })
  }
  const plan = compiled([])
  const plans = new Map([['', plan]])
  return {
    name,
    plan,
    optional: known,
    presets,
    planWith(optional) {
      const unknown = optional.find((each) => !known.includes(each))
      if (unknown !== undefined)
        throw new RefereeError('ZR_RULEBOOK_UNKNOWN_OPTION', { rulebook: name, rule: unknown, known })
      // In the order of the rulebook, whatever order they were asked for in.
      const taken = expansions.filter((rule) => optional.includes(rule.name))
      const key = taken.map((rule) => rule.name).join(' ')
      const before = plans.get(key)
      if (before !== undefined) return before
      const made = compiled(taken)
      plans.set(key, made)
      return made
    },
  }
}

/** A timed round must be able to end with something decided, and so must several rounds. */
function assertDecidable(rulebook: string, rules: readonly RuleLike[]): void {
  const timed = rules.find((rule) => rule.name === rounds.name)
  const judge = rules.find((rule) => rule.name === verdict.name)
  if (judge === undefined) return
  const { length, count = 1 } = Object(timed?.given) as {
    readonly length?: number | null
    readonly count?: number
  }
  const conditions = conditionsOf(judge)
  for (const { name: need } of conditions.flatMap(({ needs }) => needs))
    if (!rules.some((rule) => rule.name === need))
      throw new RefereeError('ZR_RULEBOOK_MISSING_NEED', { rulebook, rule: verdict.name, need })
  if (typeof length === 'number' && !conditions.some(({ atTime }) => atTime))
    throw new RefereeError('ZR_RULEBOOK_NO_TIME_CONDITION', { rulebook })
  for (const scope of ['round', 'bout'] as const)
    if (count > 1 && !conditions.some((each) => each.scope === scope))
      throw new RefereeError('ZR_RULEBOOK_NO_ROUND_CONDITION', { rulebook, scope })
}
