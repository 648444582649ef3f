import type { RecordContent } from '../../record/index.ts'
import type { Disclosure } from '../../rule/index.ts'
import type { AnyMatch } from '../../rulebook/index.ts'
import type { Update } from '../../views/index.ts'
import type { PlayRequest } from '../begin-play.ts'
import type { Crowd } from '../crowd.ts'
import type { FaultKind } from '../fault-kinds.ts'

/** How a match is looked at. */
interface Looked {
  /** At how many inputs of the match it is looked. Default: 24. */
  readonly checks?: number
  /**
   * About how many pairs of matches are compared. Where there are more secrets and viewers, fewer viewers look at each
   * moment, and each has its turn. Default: 720.
   */
  readonly comparisons?: number
  /** How many steps two matches go on together at most. Default: 30. */
  readonly steps?: number
  /** For how long they do at most, in ms of match time. Default: 60,000. */
  readonly stretch?: number
  /** Secrets that nobody sees, as 'rule.part.cell': what lies ahead, such as days to come. */
  readonly also?: readonly string[]
  /** What is revealed on purpose, besides what the rules say of it themselves (see `discloses` there). */
  readonly discloses?: readonly Disclosure[]
  /** What the host makes of an update on its way to the viewer, if it does more than send it. */
  readonly through?: Through
}
/** A match that a crowd plays for the audit. */
export interface AuditAsked extends Looked, PlayRequest {
  /** Plays the match; called twice, and must play the same each time. */
  crowd(): Crowd
  /** Match time (ms) after which it is left. */
  readonly until?: number
}
/** A match that was played and recorded. */
export interface AuditedRecord extends Looked {
  /** The record, as text or read. */
  readonly record: string | RecordContent
}
export type Through = (update: Update | undefined, match: AnyMatch) => Update | undefined
/** A place at which a viewer can tell what it may not see. */
export interface SightLeak {
  /** Who could tell. */
  readonly viewer: string
  /** Match time at which the two matches were still the same to it, ms. */
  readonly at: number
  /**
   * What was varied: 'rule.part.cell'; 'rule.part' for how many hidden rows it has, or which of two is which; 'draws' for
   * what chance will give.
   */
  readonly secret: string
  /** What told of it. */
  readonly by: 'view' | 'ruling' | 'options' | 'notice' | 'patch' | 'returning-id' | 'inner-id'
  /** Where: a path of the view, or the name of an input or event. */
  readonly path: string
  /** The input at which it showed; 'time' for what timers did. Nothing where it showed before any step. */
  readonly input: string | undefined
  /** The inputs from there to where it shows, by seat; of all that showed the same, the fewest. */
  readonly inputs: readonly string[]
}
/** How well a secret was looked at. */
export interface Coverage {
  /** How often it was given another value, and at how many moments. 0: the audit says nothing of it. */
  readonly varied: number
  /** At how many moments. */
  readonly moments: number
  /** How often for each viewer. */
  readonly viewers: { readonly [viewer: string]: number }
  /** How many steps twins went on in the middle case; nothing for what is only compared at one moment. */
  readonly steps: number | undefined
}
/** What an audit found, and how much it looked at. */
export interface SightAudit {
  /** What viewers could tell that they may not see. */
  readonly leaks: readonly SightLeak[]
  /** All that may be revealed on purpose, and how often it was, by viewer. */
  readonly disclosed: readonly (Disclosure & { readonly times: { readonly [viewer: string]: number } })[]
  /** How well each secret was looked at. */
  readonly secrets: { readonly [secret: string]: Coverage }
  /** How many pairs of matches were compared. */
  readonly compared: number
  /** What keeps the audit from saying that nothing leaks: secrets that were never varied, or not for long enough. */
  readonly incomplete: readonly string[]
  /** Faults of the match that was played: a mode that faults is not clean. */
  readonly faults: readonly FaultKind[]
}
