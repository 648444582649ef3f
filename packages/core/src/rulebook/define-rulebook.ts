import { generatesCode, RefereeError } from '../kit/index.ts'
import { compilePlan, type Plan, type RuleLike, type Spec, type SpecOf } from '../match/index.ts'
import { decidesAtTime, phases, roster, rounds, verdict } from '../rules/index.ts'
import { digestOf } from './describe.ts'
import { orderRules } from './order.ts'

/** Roster and phases are in every rulebook, listed or not. */
type Always = SpecOf<typeof roster> | SpecOf<typeof phases>
type Lacking<S extends Spec, All extends Spec> = Exclude<S['needs'], All['name']>
type Checked<R, All extends Spec> =
  SpecOf<R> extends infer S extends Spec
    ? [Lacking<S, All>] extends [never]
      ? R
      : `rule '${S['name']}' needs '${Lacking<S, All>}': add it to rules`
    : never

/** Everything that defines a mode, ready to run. All its matches share it. */
export interface Rulebook<S extends Spec = Spec> {
  readonly name: string
  readonly plan: Plan
  /** Known to types only. */
  readonly specs?: { readonly is: S }
}

/** A rulebook of which only the run-time part matters, as hosts and tools take it. */
export type AnyRulebook = Pick<Rulebook, 'name' | 'plan'>

const MOST_SEATS = 1000

/**
 * A mode: its name, how many seats it takes, and its rules in order. Rules that others need come first by themselves;
 * `roster` and `phases` are always there and listed only to give them settings.
 *
 * @throws ZR_RULEBOOK_TWO_RULES, ZR_RULEBOOK_MISSING_NEED, ZR_RULEBOOK_CYCLE, ZR_RULEBOOK_BAD_SEATS,
 *   ZR_RULEBOOK_NO_TIME_CONDITION, ZR_SETTING_INVALID, ZR_RULE_UNKNOWN_HANDLER, ZR_RULE_UNKNOWN_GATE
 */
export function defineRulebook<const R extends readonly RuleLike[]>(book: {
  readonly name: string
  readonly seats: { readonly min: number; readonly max: number }
  readonly rules: { readonly [I in keyof R]: Checked<R[I], SpecOf<R[number]> | Always> }
  /** Whether rows may be compiled from text, which is faster. Nothing said: where the place allows it; a page with a strict content policy does not. */
  readonly generateCode?: boolean
}): Rulebook<SpecOf<R[number]> | Always> {
  const {
    name,
    seats: { min, max },
  } = book
  if (!Number.isInteger(min) || !Number.isInteger(max) || min < 1 || max < min || max > MOST_SEATS)
    throw new RefereeError('ZR_RULEBOOK_BAD_SEATS', { rulebook: name, min, max })
  const rules = orderRules(name, book.rules as readonly RuleLike[], [roster, phases])
  const plan = compilePlan(name, { min, max }, rules, digestOf, book.generateCode ?? generatesCode())
  assertDecidable(name, rules)
  return { name, plan }
}

/** A timed round must be able to end with something decided. */
function assertDecidable(rulebook: string, rules: readonly RuleLike[]): void {
  const timed = rules.find((rule) => rule.name === rounds.name)
  const judge = rules.find((rule) => rule.name === verdict.name)
  const { length } = Object(timed?.given) as { readonly length?: number | null }
  if (judge !== undefined && typeof length === 'number' && !decidesAtTime(judge))
    throw new RefereeError('ZR_RULEBOOK_NO_TIME_CONDITION', { rulebook })
}
