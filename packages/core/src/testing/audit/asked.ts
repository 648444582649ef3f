import type { RecordContent } from '../../record/index.ts'
import type { Disclosure } from '../../rule/index.ts'
import type { AnyMatch } from '../../rulebook/index.ts'
import type { Update } from '../../views/index.ts'
import type { PlayRequest } from '../begin-play.ts'
import type { Crowd } from '../crowd.ts'
import type { FaultKind } from '../fault-kinds.ts'

/** How the audit looks at a match. */
interface Looked {
  /** At how many inputs of the match it looks. Default: 24. */
  readonly checks?: number
  /**
   * About how many pairs of matches it compares. If there are more secrets and viewers, fewer viewers look at each
   * moment, in turn. Default: 720.
   */
  readonly comparisons?: number
  /** How many steps two matches go on together at most. Default: 30. */
  readonly steps?: number
  /** How long they go on at most, in ms of match time. Default: 60,000. */
  readonly stretch?: number
  /** Secrets that nobody sees, as 'rule.part.cell': what lies ahead, such as days to come. */
  readonly also?: readonly string[]
  /** What is revealed on purpose, besides what the rules declare in `discloses`. */
  readonly discloses?: readonly Disclosure[]
  /** What the host does to an update on its way to the viewer, if it does more than send it. */
  readonly through?: Through
}
/** A match that a crowd plays for the audit. */
export interface AuditAsked extends Looked, PlayRequest {
  /** Makes the crowd. Called twice; both must play the same. */
  crowd(): Crowd
  /** When to stop, in ms of match time. */
  readonly until?: number
}
/** A match that was played and recorded. */
export interface AuditedRecord extends Looked {
  /** The record, as text or read. */
  readonly record: string | RecordContent
}
export type Through = (update: Update | undefined, match: AnyMatch) => Update | undefined
/** A place where a viewer can infer what it may not see. */
export interface SightLeak {
  /** Who can infer it. */
  readonly viewer: string
  /** Match time at which the two matches were still the same to it, in ms. */
  readonly at: number
  /**
   * What was varied: 'rule.part.cell'; 'rule.part' for how many hidden rows it has, or which of two is which; 'draws'
   * for what chance will give.
   */
  readonly secret: string
  /** What gave it away. */
  readonly by: 'view' | 'ruling' | 'options' | 'notice' | 'patch' | 'returning-id' | 'inner-id'
  /** Where: a path in the view, or the name of an input or event. */
  readonly path: string
  /** The input after which it showed; 'time' for what timers did. Nothing if it showed before any step. */
  readonly input: string | undefined
  /** The inputs from there to where it shows, by seat: the fewest of all that showed the same. */
  readonly inputs: readonly string[]
}
/** How well a secret was checked. */
export interface Coverage {
  /** How often it was given another value. 0: the audit says nothing about it. */
  readonly varied: number
  /** At how many moments. */
  readonly moments: number
  /** How often for each viewer. */
  readonly viewers: { readonly [viewer: string]: number }
  /** How many steps twins went on in the median case; nothing for what is only compared at one moment. */
  readonly steps: number | undefined
}
/** What an audit found, and how much it checked. */
export interface SightAudit {
  /** What viewers could infer that they may not see. */
  readonly leaks: readonly SightLeak[]
  /** All that may be revealed on purpose, and how often it was, by viewer. */
  readonly disclosed: readonly (Disclosure & { readonly times: { readonly [viewer: string]: number } })[]
  /** How well each secret was checked. */
  readonly secrets: { readonly [secret: string]: Coverage }
  /** How many pairs of matches were compared. */
  readonly compared: number
  /** What keeps the audit from saying that nothing leaks: secrets that were never varied, or not for long enough. */
  readonly incomplete: readonly string[]
  /** Faults of the match that was played. A mode with faults is not clean. */
  readonly faults: readonly FaultKind[]
}
