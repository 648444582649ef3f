import { VenueError } from '../venue-error.ts'

// Apart from the venue's own errors, whose texts no page needs.

/** Where a match is that another venue has. */
export interface Elsewhere {
  readonly match: string
  readonly url: string
}

/** The venue has refused to let the client in: why, as the protocol names it, or where its match is. */
export const refusedBy = (says: string, why: string | Elsewhere | undefined): VenueError =>
  new VenueError('ZR_VENUE_REFUSED', `The venue refused to let you in: ${says}`, why)

/** Returns where the match is, if that is why the venue has refused. */
export function elsewhere(error: unknown): Elsewhere | undefined {
  const { cause } = Object(error) as { readonly cause?: unknown }
  return typeof cause === 'object' && cause !== null && 'url' in cause ? (cause as Elsewhere) : undefined
}

/** The connection is lost, or there is none. */
export const noConnection = (why = 'the connection was lost'): VenueError =>
  new VenueError(
    'ZR_VENUE_CONNECTION',
    `The connection to the venue failed: ${why}. Check the address, and that the venue runs.`,
  )

/** True if trying again later would not help. */
export const isFinal = (error: unknown): error is VenueError =>
  error instanceof VenueError &&
  error.code === 'ZR_VENUE_REFUSED' &&
  error.cause !== 'not-now' &&
  elsewhere(error) === undefined
