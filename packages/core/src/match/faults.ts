import { RefereeError } from '../kit/index.ts'

/** A step that was taken back because a handler threw. */
export interface Fault {
  /** What its ruling names it by. It says nothing else: what went wrong may be a secret. */
  readonly id: string
  /** Match time, ms. */
  readonly at: number
  /** The handler that threw, such as `vitals amend vitals.hurt`, and the input or timer whose step it was. */
  readonly handler: string
  readonly during: string
  readonly error: unknown
}

/** Nothing in a match waits. What the handler still does when it is too late must not end the process. */
export function waits(handler: string, promise: Promise<unknown>): RefereeError {
  promise.catch(() => undefined)
  return new RefereeError('ZR_MATCH_ASYNC', { handler })
}

/** Rows are closed: a cell that is not there cannot be written. Engines word that each in their own way. */
export const inOurWords = (thrown: unknown): unknown =>
  thrown instanceof TypeError && /not extensible/i.test(thrown.message)
    ? new RefereeError(
        'ZR_STATE_UNKNOWN_CELL',
        { cell: /property "?'?(\w+)/.exec(thrown.message)?.[1] ?? '' },
        thrown,
      )
    : thrown
