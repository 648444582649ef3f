import { Named, nearest, RefereeError } from '../kit/index.ts'
import type { RuleLike } from '../rule/index.ts'
import { definitionOf, tiers, wokenByOptions } from '../rule/index.ts'
import {
  type InputPlan,
  type Plan,
  type PlanBody,
  type RulePlan,
  type SettlePlan,
  WAKE_BITS,
} from './plan.ts'
import { assertGroups, assertOffered, assertReferences, assertTables } from './plan-checks.ts'
import { inputsOf } from './plan-inputs.ts'
import { planRule } from './plan-rule.ts'
import { partsBySpan } from './spans.ts'

/** How code is made, and what views have besides what rules put there: names of actions and of settings. */
interface Shown {
  readonly generated: boolean
  readonly offers: readonly string[]
  readonly shows: readonly string[]
}

/** Compiles ordered rules into a plan. Checks names; the rulebook has checked needs and order. */
export function compilePlan(
  name: string,
  seatLimits: Plan['seatLimits'],
  rules: readonly RuleLike[],
  outline: (plan: PlanBody) => Pick<Plan, 'outline' | 'digest'>,
  { generated, offers, shows }: Shown,
): Plan {
  const definitions = rules.map((rule) => wokenByOptions(definitionOf(rule), rule.given))
  const planned = definitions.map((definition, index) =>
    planRule(definition, index, rules[index]?.given, definitions, generated),
  )
  const listed: InputPlan[] = []
  for (const rule of planned)
    for (const input of inputsOf(rule, listed.length, planned, generated))
      listed.push(
        input.kind === 'action' && offers.includes(input.name) ? { ...input, offered: true } : input,
      )
  const inputs = new Named(listed.map((input): [string, InputPlan] => [input.name, input]))
  for (const rule of planned) {
    for (const [key, run] of present(rule.definition.on, rule, planned))
      find(planned, rule, 'on', key, (r) => r.events).handlers.push({
        rule: rule.index,
        label: `${rule.name} on ${key}`,
        run,
      })
    for (const [key, run] of present(rule.definition.amend, rule, planned)) {
      const action = inputs.get(key)
      const target = action?.kind === 'action' ? action : find(planned, rule, 'amend', key, (r) => r.drafts)
      target.amendments.push({ rule: rule.index, label: `${rule.name} amend ${key}`, run })
    }
  }
  for (const input of inputs.values()) {
    assertTables(input.name, input.input, planned)
    assertOffered(input)
  }
  for (const { parts } of planned) for (const part of parts) assertReferences(part, planned)
  assertGroups(name, planned)
  const actions = listed.flatMap(({ kind, name: action }) => (kind === 'action' ? action : []))
  const settings = planned.flatMap((rule) =>
    Object.keys(Object(rule.usual)).map((key) => `${rule.name}.${key}`),
  )
  assertNamed(name, 'offers', offers, actions)
  assertNamed(name, 'shows', shows, settings)
  const timers = planned.flatMap((rule) => [...rule.timers.values()])
  const plan = {
    name,
    seatLimits,
    rules: planned,
    inputs,
    generatesCode: generated,
    timers,
    settle: settleOf(planned),
    bySpan: partsBySpan(planned),
    inViews: {
      timers: byRule(timers.flatMap((timer) => (timer.sights.length > 0 ? [[timer.whole, timer]] : []))),
      offered: byRule(
        listed.flatMap((input) => (input.kind === 'action' && input.offered ? [[input.name, input]] : [])),
      ),
      settings: byRule(shows.map((shown) => [shown, shown.slice(shown.indexOf('.') + 1)])),
    },
  }
  // It takes a third of a compilation, and only records and snapshots ask for it.
  let known: Pick<Plan, 'outline' | 'digest'> | undefined
  const outlined = () => {
    known ??= outline(plan)
    return known
  }
  return {
    ...plan,
    get outline() {
      return outlined().outline
    },
    get digest() {
      return outlined().digest
    },
  }
}

/** What has names such as `rounds.length`, by the rule in them. */
function byRule<V>(all: readonly (readonly [name: string, V])[]): ReadonlyMap<string, readonly V[]> {
  const rules = new Map<string, V[]>()
  for (const [name, each] of all) {
    const rule = name.slice(0, name.indexOf('.'))
    rules.set(rule, [...(rules.get(rule) ?? []), each])
  }
  return rules
}

/** @throws ZR_RULEBOOK_UNKNOWN_NAME */
function assertNamed(rulebook: string, option: string, names: readonly string[], known: readonly string[]) {
  const unknown = names.find((each) => !known.includes(each))
  if (unknown !== undefined)
    throw new RefereeError('ZR_RULEBOOK_UNKNOWN_NAME', {
      rulebook,
      option,
      name: unknown,
      nearest: nearest(unknown, known),
    })
}

/** Returns the handlers without those of rules that are declared but not in this rulebook. */
function present<H>(
  handlers: { readonly [key: string]: H } = {},
  { definition }: RulePlan,
  rules: readonly RulePlan[],
): [string, H][] {
  const missing = (definition.knows ?? []).filter(({ name }) => !rules.some((rule) => rule.name === name))
  return Object.entries(handlers).filter(([key]) => !missing.some(({ name }) => key.startsWith(`${name}.`)))
}

function find<P>(
  rules: readonly RulePlan[],
  rule: RulePlan,
  part: string,
  key: string,
  among: (rule: RulePlan) => Named<P>,
): P {
  const at = key.indexOf('.')
  const other = rules.find((each) => each.name === key.slice(0, at))
  const found = other === undefined ? undefined : among(other).get(key.slice(at + 1))
  if (found !== undefined) return found
  const known = rules.flatMap((each) => [...among(each).keys()].map((name) => `${each.name}.${name}`))
  throw new RefereeError('ZR_RULE_UNKNOWN_HANDLER', { rule: rule.name, part, key, known })
}

function settleOf(rules: readonly RulePlan[]): SettlePlan[][] {
  return tiers.map((tier) =>
    rules.flatMap(({ index, name, definition: { settle } }) =>
      settle !== undefined && (settle.tier ?? 'upkeep') === tier
        ? [{ rule: index, label: `${name} settle`, bit: 1 << (index % WAKE_BITS), run: settle.run }]
        : [],
    ),
  )
}
