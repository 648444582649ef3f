import type { RecordContent } from '../../record/index.ts'
import type { Disclosure } from '../../rule/index.ts'
import type { AnyMatch } from '../../rulebook/index.ts'
import type { Update } from '../../views/index.ts'
import type { PlayRequest } from '../begin-play.ts'
import type { Crowd } from '../crowd.ts'
import type { FaultKind } from '../fault-kinds.ts'

/** Options for how the audit looks at a match. */
interface LookOptions {
  /** At how many inputs of the match it looks. Default: 24. */
  readonly checks?: number
  /**
   * About how many pairs of matches it compares. If there are more secrets and viewers, fewer viewers look at each
   * moment, in turn. Default: 720.
   */
  readonly comparisons?: number
  /** Maximum number of steps that two matches are run on together. Default: 30. */
  readonly steps?: number
  /** Maximum time that they are run on, in ms of match time. Default: 60,000. */
  readonly stretch?: number
  /** Secrets that nobody sees, as 'rule.part.cell': what lies ahead, such as days to come. */
  readonly also?: readonly string[]
  /** Secrets that are revealed on purpose, besides those that the rules declare in `discloses`. */
  readonly discloses?: readonly Disclosure[]
  /** Changes that the host makes to an update before it sends it. */
  readonly through?: Through
}
/** A match that a crowd plays for the audit. */
export interface AuditAsked extends LookOptions, PlayRequest {
  /** Makes the crowd. Called twice; both must play the same. */
  crowd(): Crowd
  /** Match time to stop at, in ms. */
  readonly until?: number
}
/** A match that was played and recorded. */
export interface AuditedRecord extends LookOptions {
  /** The record, as text or read. */
  readonly record: string | RecordContent
}
export type Through = (update: Update | undefined, match: AnyMatch) => Update | undefined
/** A place where a viewer can infer what it may not see. */
export interface SightLeak {
  /** The viewer that can infer it. */
  readonly viewer: string
  /** Match time at which the two matches were still the same to it, in ms. */
  readonly at: number
  /**
   * The secret that was varied: 'rule.part.cell'; 'rule.part' for the number of its hidden rows, or which row is
   * which; 'draws' for future results of chance.
   */
  readonly secret: string
  /** The output that gave it away. */
  readonly by: 'view' | 'ruling' | 'options' | 'notice' | 'patch' | 'returning-id' | 'inner-id'
  /** A path in the view, or the name of an input or event. */
  readonly path: string
  /** The input after which it showed; 'time' for what timers did. Nothing if it showed before any step. */
  readonly input: string | undefined
  /** The inputs from there to where it shows, by seat: the fewest of all that showed the same. */
  readonly inputs: readonly string[]
}
/** How thoroughly a secret was checked. */
export interface Coverage {
  /** Number of times it was given another value. 0: the audit can't say anything about it. */
  readonly varied: number
  /** At how many moments. */
  readonly moments: number
  /** The same by viewer. */
  readonly viewers: { readonly [viewer: string]: number }
  /** Median number of steps that twins were run on. Nothing for what is compared at one moment only. */
  readonly steps: number | undefined
}
/** The result of an audit. */
export interface SightAudit {
  /** Secrets that a viewer could infer. */
  readonly leaks: readonly SightLeak[]
  /** All that may be revealed on purpose, and how often it was, by viewer. */
  readonly disclosed: readonly (Disclosure & { readonly times: { readonly [viewer: string]: number } })[]
  /** How thoroughly each secret was checked. */
  readonly secrets: { readonly [secret: string]: Coverage }
  /** Number of pairs of matches that were compared. */
  readonly compared: number
  /** Reasons why the audit can't say that nothing leaks: secrets that were never varied, or not for long enough. */
  readonly incomplete: readonly string[]
  /** Faults of the match that was played. A mode with faults is not clean. */
  readonly faults: readonly FaultKind[]
}
