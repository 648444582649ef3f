import type { ActionOptions, ReportOptions } from '../inputs/index.ts'
import type { Snapshot } from './snapshot.ts'

/** The version of the record format that this package writes and reads. */
export const RECORD_VERSION = 2

/** The first line of a record. It may be in the middle too, with a snapshot: there the match went on under other rules. */
export interface Header {
  readonly record: 'zinc-referee'
  readonly version: number
  readonly rulebook: string
  /** Digest of the rulebook's plan: a record replays only with the rules it was made with. */
  readonly plan: string
  /** A short hash for each thing in the plan, by name: what has changed since can be said. */
  readonly outline: { readonly [name: string]: string }
  readonly seed: string
  /** All that are in force, by rule. */
  readonly settings: { readonly [rule: string]: unknown }
  /** The optional rules that are in it, where there are any. */
  readonly with?: readonly string[]
  /** Where it begins, if not with an empty lobby. */
  readonly from?: Snapshot
  /** Why it begins there. */
  readonly because?: string
}
/** One input. Its kind is the member that carries its name; a refused one has `no`, with a code each for a list. */
export interface InputLine {
  readonly t: number
  readonly submit?: string
  readonly report?: string
  readonly reportAll?: string
  readonly direct?: string
  readonly seat?: string
  readonly referee?: string
  readonly input: unknown
  readonly how?: ActionOptions & ReportOptions
  readonly no?: string | readonly (string | null)[]
}
/** How far time ran and what the state's hash was then; the last line also says that the match was closed. */
export interface CheckLine {
  readonly t: number
  readonly check: string
  readonly end?: true
}
/** How far time ran before somebody was shown what a timer had done. */
export interface TimeLine {
  readonly t: number
}
export type Line = Header | InputLine | CheckLine | TimeLine
