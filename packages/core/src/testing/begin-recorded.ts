import type { Header } from '../record/index.ts'
import {
  type AnyRulebook,
  beginAnyMatch,
  insideOf,
  type OpenMatch,
  resumeAnyMatch,
  seedFrom,
} from '../rulebook/index.ts'

type Listeners = Pick<Parameters<typeof beginAnyMatch>[1], 'record' | 'onFault'>

/**
 * Begins a match as a record does, by a rulebook that may be another version of its own. Settings that this version does not
 * have are left out; those that the record does not have, or that only a rulebook can set, are as the version has them.
 * @throws what beginning a match throws
 */
export function beginRecorded(
  book: AnyRulebook,
  { seed, settings, from, with: taken = [] }: Header,
  listeners: Listeners = {},
): OpenMatch {
  const used = taken.filter((rule) => book.optional.includes(rule))
  const match =
    from === undefined
      ? beginAnyMatch(book, {
          seed: seedFrom(seed),
          with: used,
          settings: known(book, used, settings),
          ...listeners,
        })
      : resumeAnyMatch(book, from, { migrate: (old) => old, ...listeners })
  return insideOf(match) as OpenMatch // it has just been made
}

/** The settings of a record that a version has, and that a match can set. */
function known(
  book: AnyRulebook,
  used: readonly string[],
  recorded: { readonly [rule: string]: unknown },
): object {
  return Object.fromEntries(
    book.planWith(used).rules.map((rule) => {
      const has = Object.keys(Object(rule.usual)).filter((name) => !rule.fixed.has(name))
      const was: { readonly [name: string]: unknown } = Object(recorded[rule.name])
      return [rule.name, Object.fromEntries(has.flatMap((name) => (name in was ? [[name, was[name]]] : [])))]
    }),
  )
}
