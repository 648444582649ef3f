import type { ActionOptions, ReportOptions } from '../inputs/index.ts'
import type { Snapshot } from './snapshot.ts'

/** The version of the record format that this package writes and reads. */
export const RECORD_VERSION = 2

/** The first line of a record. It may be in the middle too, with a snapshot: there the match went on under other rules. */
export interface Header {
  /** Names the format. */
  readonly record: 'zinc-referee'
  /** The version of the format. */
  readonly version: number
  /** The name of the rulebook. */
  readonly rulebook: string
  /** Digest of the rulebook's plan: a record replays only with the rules it was made with. */
  readonly plan: string
  /** A short hash for each thing in the plan, by name: what has changed since can be said. */
  readonly outline: { readonly [name: string]: string }
  /** The seed as text; 'hex:' and 64 digits for 32 bytes. */
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
  /** Match time, ms. */
  readonly t: number
  /** The action, where it is one. */
  readonly submit?: string
  /** The fact, where it is one. */
  readonly report?: string
  /** The fact of which there were several at once. */
  readonly reportAll?: string
  /** The directive, where it is one. */
  readonly direct?: string
  /** Whose action it is. */
  readonly seat?: string
  /** Who gave the directive. */
  readonly referee?: string
  /** What was given: parsed, or as it came where it could not be. */
  readonly input: unknown
  /** The id of the action, and what else came with it. */
  readonly how?: ActionOptions & ReportOptions
  /** The code of its refusal; nothing where it was allowed. */
  readonly no?: string | readonly (string | null)[]
}
/** How far time ran and what the state's hash was then; the last line also says that the match was closed. */
export interface CheckLine {
  /** Match time, ms. */
  readonly t: number
  /** The hash of the state. */
  readonly check: string
  /** True on the last line of a record that was closed. */
  readonly end?: true
}
/** How far time ran before somebody was shown what a timer had done. */
export interface TimeLine {
  readonly t: number
}
/** Any line of a record. */
export type Line = Header | InputLine | CheckLine | TimeLine
