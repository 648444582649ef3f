import type { ActionOptions, ReportOptions } from '../inputs/index.ts'
import type { Snapshot } from './snapshot.ts'

/** The version of the record format that this package writes and reads. */
export const RECORD_VERSION = 2

/**
 * The first line of a record. It may also come in the middle, with a snapshot: from there the match went on under
 * other rules.
 */
export interface Header {
  /** Names the format. */
  readonly record: 'zinc-referee'
  /** The version of the format. */
  readonly version: number
  /** The name of the rulebook. */
  readonly rulebook: string
  /** Digest of the rulebook's plan. A record replays only with the rules that it was made with. */
  readonly plan: string
  /** A short hash for each thing in the plan, by name, so that an error can say what changed. */
  readonly outline: { readonly [name: string]: string }
  /** The seed as text; 'hex:' and 64 digits for 32 bytes. */
  readonly seed: string
  /** All settings in force, by rule. */
  readonly settings: { readonly [rule: string]: unknown }
  /** The optional rules in use, if there are any. */
  readonly with?: readonly string[]
  /** The snapshot that it begins with, if not with an empty lobby. */
  readonly from?: Snapshot
  /** Why it begins there. */
  readonly because?: string
}
/**
 * One input. Its kind is the member that carries its name. A refused one has `no`; a list has a code or null for
 * each.
 */
export interface InputLine {
  /** Match time, in ms. */
  readonly t: number
  /** The action, if it is one. */
  readonly submit?: string
  /** The fact, if it is one. */
  readonly report?: string
  /** The fact that was reported several times at once, if it is one. */
  readonly reportAll?: string
  /** The directive, if it is one. */
  readonly direct?: string
  /** Whose action it is. */
  readonly seat?: string
  /** Who gave the directive. */
  readonly referee?: string
  /** The input: parsed, or as it arrived if it could not be parsed. */
  readonly input: unknown
  /** The id of the action, and what else came with it. */
  readonly how?: ActionOptions & ReportOptions
  /** The code of its refusal; nothing if it was allowed. */
  readonly no?: string | readonly (string | null)[]
}
/** How far time had run and the hash of the state at that time. The last line also says that the match was closed. */
export interface CheckLine {
  /** Match time, in ms. */
  readonly t: number
  /** The hash of the state. */
  readonly check: string
  /** True on the last line of a record that was closed. */
  readonly end?: true
}
/** How far time had run when somebody was shown what a timer had done. */
export interface TimeLine {
  readonly t: number
}
/** Any line of a record. */
export type Line = Header | InputLine | CheckLine | TimeLine
