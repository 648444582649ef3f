import type { Seat } from '../cells/index.ts'
import type { Tags } from '../rule/index.ts'
import { type Refusal, refuse } from '../rule/index.ts'

/** In which lives and turn the sender saw what it acts on. Stale inputs are refused. */
export type InputTags = Tags
/** Tags of a fact: lives, and the time when it happened. */
export interface ReportOptions extends InputTags {
  /** Match time when it happened, in ms, not after now. A fact that is older than it allows is refused as `stale`. */
  readonly at?: number | undefined
}
/** Tags of an action: an id, so that sending it twice does it once, and the sender's own life. */
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

/** Returns the tags of a fact as they are recorded. */
export const givenTags = ({ lives, turn, at }: ReportOptions = {}): ReportOptions | undefined =>
  lives === undefined && turn === undefined && at === undefined
    ? undefined
    : { ...(lives && { lives }), ...(turn !== undefined && { turn }), ...(at !== undefined && { at }) }

/** Returns the lives and the turn that were sent, or nothing if there were none, so that no gate has to check. */
export const tagged = (seen: Tags | undefined): Tags | undefined =>
  seen?.lives === undefined && seen?.turn === undefined ? undefined : seen

export const tagsOf = (how: ActionOptions, seat: Seat): Tags | undefined =>
  how.life === undefined ? tagged(how) : { lives: { ...how.lives, [seat]: how.life }, turn: how.turn }

const MAX_ID = 128

/** Returns the refusal for invalid tags of an action or a fact, or nothing. What is not finite would be lost in a record. */
export function refusalForTags({ id, life, turn, at }: ActionOptions & ReportOptions): Refusal | undefined {
  const isOf = (number: unknown): boolean => number === undefined || Number.isSafeInteger(number)
  const issues = [
    ...(isOf(id) || (typeof id === 'string' && id.length <= MAX_ID)
      ? []
      : [`an action id must be a whole number, or a text of at most ${MAX_ID} characters`]),
    ...Object.entries({ life, turn, at }).flatMap(([name, number]) =>
      isOf(number) ? [] : [`'${name}' must be a whole number`],
    ),
  ]
  return issues.length === 0 ? undefined : refuse('bad-input', { issues })
}
