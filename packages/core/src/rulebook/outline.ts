import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'
import { canonicalJson, hashText } from '../kit/index.ts'
import type { Plan, PlanBody } from '../plan/index.ts'
import { describePlan } from './describe.ts'

type Outline = Plan['outline']

const DIGITS = 8

/**
 * Returns everything that decides whether a record or a snapshot fits a plan, by name: the output of `describe`
 * without explanations, and what rules were given besides settings, such as conditions. It does not include the
 * source of functions.
 */
export function outlineOf(plan: PlanBody): Pick<Plan, 'outline' | 'digest'> {
  const { seats, rules } = describePlan(plan)
  const outline: Record<string, string> = {}
  const add = (name: string, thing: unknown): void => {
    outline[name] = hashText(canonicalJson(thing)).slice(0, DIGITS)
  }
  add('seats', seats)
  add(
    'order of settling',
    rules.flatMap(({ name, settles }) => (settles === undefined ? [] : [[name, settles.tier]])),
  )
  for (const { name, needs, groups, settles, timers, ...rule } of rules) {
    add(`rule ${name}`, { needs, groups, settles })
    for (const timer of timers) add(`timer ${name}.${timer.name}`, timer)
    // What a notice reads like decides nothing.
    const events = Object.entries(rule.events).map(([event, { says: _, ...how }]) => [event, how] as const)
    for (const [kind, things] of Object.entries({
      part: rule.state,
      event: Object.fromEntries(events),
      draft: rule.drafts,
    }))
      for (const [each, thing] of Object.entries(things)) add(`${kind} ${name}.${each}`, thing)
    const { actions: action, facts: fact, directives: directive } = rule
    for (const [kind, inputs] of Object.entries({ action, fact, directive }))
      for (const input of inputs) add(`${kind} ${input.name}`, input)
  }
  for (const { name, config } of plan.rules) {
    const text = JSON.stringify(config)
    if (text !== undefined && text !== '{}') add(`config of ${name}`, text)
  }
  const digest = bytesToHex(sha256(utf8ToBytes(canonicalJson({ name: plan.name, outline })))).slice(0, 32)
  return { outline, digest }
}

const MAX_NAMED = 20

/** Returns the first differences between two versions of a plan, in words. */
export function outlinesApart(before: Outline, now: Outline): string {
  return Object.keys({ ...before, ...now })
    .filter((name) => before[name] !== now[name])
    .map((name) => `${name in before ? (name in now ? 'changed' : 'gone') : 'new'}: ${name}`)
    .slice(0, MAX_NAMED)
    .join('; ')
}
