import type { Update } from '../../match/index.ts'
import type { RecordContent } from '../../record/index.ts'
import type { AnyMatch } from '../../rulebook/index.ts'
import type { Seat } from '../../state/index.ts'
import type { Crowd } from '../crowd.ts'

/** How a match is looked at. */
interface Looked {
  /** At how many inputs of the match it is looked. */
  readonly checks?: number
  /** Secrets that nobody sees, as 'rule.part.cell': what lies ahead, such as days to come. */
  readonly also?: readonly string[]
  /**
   * What is told of secrets on purpose by what happens in the match, and why, beside what the rules say of it themselves
   * (see `discloses` there): by the secret's name ('rule.part.cell'), or by the input that tells; 'time' is what timers
   * do. What a view holds before anything has happened is not excused, but
   * for how many hidden rows a table has ('rule.part').
   */
  readonly discloses?: { readonly [secretOrInput: string]: string }
  /** What the host makes of an update on its way to the viewer, where it does more than send it. */
  readonly through?: Through
}
/** A match that a crowd plays for the audit. */
export interface AuditAsked extends Looked {
  readonly seats: readonly Seat[]
  /** Plays the match; called twice, and must play the same each time. */
  crowd(): Crowd
  readonly seed?: string
  readonly with?: readonly string[]
  readonly settings?: object
  /** Match time (ms) after which it is left. */
  readonly until?: number
}
/** A match that was played and recorded. */
export interface AuditedRecord extends Looked {
  readonly record: string | RecordContent
}
export type Through = (update: Update | undefined, match: AnyMatch) => Update | undefined
/** A place at which a viewer can tell what it may not see. */
export interface SightLeak {
  readonly viewer: string
  /** Match time, ms. */
  readonly at: number
  /** What was varied: 'rule.part.cell', 'rule.part' for how many hidden rows it has, 'draws' for what chance will give. */
  readonly secret: string
  /** What told of it. */
  readonly by: 'view' | 'ruling' | 'options' | 'notice' | 'patch' | 'returning-id' | 'mark'
  /** Where: a path of the view, or an input's name. */
  readonly path: string
  /** The input of that step; 'time' for what timers did. Nothing where it stood there before any step. */
  readonly input: string | undefined
}
export interface SightAudit {
  readonly leaks: readonly SightLeak[]
  /** All that may be told on purpose, why, and how often it was. */
  readonly disclosed: readonly { readonly what: string; readonly why: string; readonly times: number }[]
  /** The secrets that were varied, and how often; 0 for one whose rows never had another value to take. */
  readonly varied: { readonly [secret: string]: number }
  /** How many pairs of matches were compared. */
  readonly compared: number
}
