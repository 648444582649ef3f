import type { AnyMatch, Ruling } from '../rule/index.ts'

/** A handler with the number of the rule whose `match` it gets, and a label for when it fails. */
export interface Handler<A extends readonly unknown[], R> {
  readonly rule: number
  readonly label: string
  readonly run: (match: AnyMatch, ...rest: A) => R
}
export type Answer = Ruling | void
