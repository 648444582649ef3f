/** The codes of errors of a client. */
export type ClientErrorCode = 'ZR_VENUE_REFUSED' | 'ZR_VENUE_CONNECTION'

/** An error that a host or a client can fix. Recognise it by its code. */
export class VenueError extends Error {
  override readonly name = 'VenueError'
  /** What went wrong. Codes are stable across versions. */
  readonly code: string

  constructor(code: string, says: string, cause?: unknown) {
    super(says, { cause })
    this.code = code
  }
}
