import { VenueError } from '../venue-error.ts'

// Apart from the venue's own errors, whose texts no page needs.

/** The venue has refused to let the client in. `problem`: why, as the protocol names it. */
export const refusedBy = (says: string, problem: string | undefined): VenueError =>
  new VenueError('ZR_VENUE_REFUSED', `The venue refused to let you in: ${says}`, problem)

/** The connection is lost, or there is none. */
export const noConnection = (why = 'the connection was lost'): VenueError =>
  new VenueError(
    'ZR_VENUE_CONNECTION',
    `The connection to the venue failed: ${why}. Check the address, and that the venue runs.`,
  )
