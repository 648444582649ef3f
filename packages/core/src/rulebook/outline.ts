import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'
import { canonicalJson, hashText } from '../kit/index.ts'
import type { Plan, PlanBody, RulePlan } from '../match/index.ts'
import { describePlan } from './describe.ts'

type Outline = Plan['outline']

const DIGITS = 8

/**
 * What decides whether a record or a snapshot fits a plan, by name: what `describe` prints but for reasons in words, and
 * the options that rules were given. The source of functions is not in it.
 */
export function outlineOf(plan: PlanBody): Pick<Plan, 'outline' | 'digest'> {
  const { seats, rules } = describePlan(plan)
  const settling = rules.flatMap(({ name, settles }) => (settles === undefined ? [] : [[name, settles.tier]]))
  const things: [string, unknown][] = [
    ['seats', seats],
    ['order of settling', settling],
    ...rules.flatMap(({ name, needs, groups, settles, state, timers, events, drafts, ...inputs }) => [
      [`rule ${name}`, { needs, groups, settles }] as [string, unknown],
      ...named('part', name, Object.entries(state)),
      ...named(
        'timer',
        name,
        timers.map((timer) => [timer.name, timer]),
      ),
      ...named('event', name, Object.entries(events)),
      ...named('draft', name, Object.entries(drafts)),
      ...inputs.actions.map((input): [string, unknown] => [`action ${input.name}`, input]),
      ...inputs.facts.map((input): [string, unknown] => [`fact ${input.name}`, input]),
      ...inputs.directives.map((input): [string, unknown] => [`directive ${input.name}`, input]),
    ]),
    ...plan.rules.flatMap(configOf),
  ]
  const outline = Object.fromEntries(
    things.map(([name, thing]) => [name, hashText(canonicalJson(thing)).slice(0, DIGITS)]),
  )
  const digest = bytesToHex(sha256(utf8ToBytes(canonicalJson({ name: plan.name, outline })))).slice(0, 32)
  return { outline, digest }
}

const named = (
  kind: string,
  rule: string,
  things: readonly (readonly [string, unknown])[],
): [string, unknown][] => things.map(([name, thing]) => [`${kind} ${rule}.${name}`, thing])

/** What a rule was given besides settings, such as the conditions of the verdict. Functions in it have no text. */
function configOf({ name, config }: RulePlan): [string, unknown][] {
  const text = JSON.stringify(config)
  return text === undefined || text === '{}' ? [] : [[`config of ${name}`, JSON.parse(text)]]
}

/** What differs between two versions of a plan, in words. */
export function outlinesApart(before: Outline, now: Outline): string {
  const gone = Object.keys(before).filter((name) => !(name in now))
  const added = Object.keys(now).filter((name) => !(name in before))
  const changed = Object.keys(now).filter((name) => name in before && before[name] !== now[name])
  const said = [
    ['gone', gone],
    ['new', added],
    ['changed', changed],
  ] as const
  return said.flatMap(([what, names]) => (names.length === 0 ? [] : `${what}: ${listed(names)}`)).join('; ')
}

const MAX_NAMED = 12
const listed = (names: readonly string[]): string =>
  names.length <= MAX_NAMED
    ? names.join(', ')
    : `${names.slice(0, MAX_NAMED).join(', ')} and ${names.length - MAX_NAMED} more`
