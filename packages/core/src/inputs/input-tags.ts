import type { Seat } from '../cells/index.ts'
import type { Tags } from '../rule/index.ts'
import { type Refusal, refuse } from '../rule/index.ts'

/** In which lives and turn the sender saw what it acts on. Stale inputs are refused. */
export type InputTags = Tags
/** What may come with a fact: those lives, and when it happened. */
export interface ReportOptions extends InputTags {
  /**
   * When it happened, in match time (ms), never after now. If that is longer ago than the fact allows, it is refused
   * as `stale`.
   */
  readonly at?: number | undefined
}
/** What may come with an action: an id, so that sending it twice does it once, and the sender's own life. */
export interface ActionOptions extends InputTags {
  /**
   * A number from a client that counts: for the last 32, the same ruling is returned; an older one is refused as
   * `stale-id`. Or a text of at most 128 characters: for the last 64 of a seat, the same ruling is returned; an older
   * one is decided again.
   */
  readonly id?: string | number
  /** The life of the seat that it was meant for. */
  readonly life?: number
}

/** What came with a fact, as it is recorded. */
export const givenTags = ({ lives, turn, at }: ReportOptions = {}): ReportOptions | undefined =>
  lives === undefined && turn === undefined && at === undefined
    ? undefined
    : { ...(lives && { lives }), ...(turn !== undefined && { turn }), ...(at !== undefined && { at }) }

/** The lives and the turn that were sent; nothing where nothing was, so that no gate need look. */
export const tagged = (seen: Tags | undefined): Tags | undefined =>
  seen?.lives === undefined && seen?.turn === undefined ? undefined : seen

export const tagsOf = (how: ActionOptions, seat: Seat): Tags | undefined =>
  how.life === undefined ? tagged(how) : { lives: { ...how.lives, [seat]: how.life }, turn: how.turn }

const MAX_ID = 128

/** What is wrong with what came with an action. */
export function refusalForTags({ id }: ActionOptions): Refusal | undefined {
  if (id === undefined || typeof id === 'number') return undefined
  return typeof id === 'string' && id.length <= MAX_ID
    ? undefined
    : refuse('bad-input', {
        issues: [`an action id must be a number, or a text of at most ${MAX_ID} characters`],
      })
}
