import type { FastifyError, FastifyReply } from 'fastify'
import { isRefereeError } from 'zinc-referee'
import type { VenueErrorCode } from '../errors.ts'
import { VenueError } from '../venue-error.ts'

/** A problem document (RFC 9457). `code` tells it from others of the same status. */
export interface Problem {
  readonly status: number
  readonly code: string
  readonly title: string
  readonly detail: string
}

const titles: { readonly [status: number]: string } = {
  400: 'The request does not fit',
  401: 'An admission is needed',
  404: 'There is nothing here',
  409: 'That does not fit what is there',
  413: 'The request is too large',
  415: 'The request does not fit',
  503: 'Not now',
}
const statuses: { readonly [C in VenueErrorCode]?: number } = {
  ZR_VENUE_MATCH_TWICE: 409,
  ZR_VENUE_UNKNOWN_MODE: 404,
  ZR_VENUE_UNKNOWN_MATCH: 404,
  ZR_VENUE_NOT_UPGRADED: 409,
  ZR_VENUE_FULL: 503,
  ZR_VENUE_CLOSED: 503,
}

export const problem = (status: number, code: string, detail: string): Problem => ({
  status,
  code,
  title: titles[status] ?? 'The venue failed',
  detail,
})

/** Sends a problem. */
export const refuseWith = (reply: FastifyReply, { status, ...rest }: Problem): FastifyReply =>
  reply
    .code(status)
    .type('application/problem+json')
    .send({ status, ...rest })

/** Returns what is wrong, for errors that whoever asks can fix; nothing for those of ours. */
export function problemOf(error: FastifyError): Problem | undefined {
  if (error instanceof VenueError)
    return problem(statuses[error.code as VenueErrorCode] ?? 500, error.code, error.message)
  if (isRefereeError(error)) return problem(400, error.code, error.message)
  const { statusCode = 500 } = error
  return statusCode < 500
    ? problem(statusCode, 'bad-request', `${error.message}. Fix it, and try again.`)
    : undefined
}
