import type { Admission } from '../admissions.ts'
import { VenueError } from '../venue-error.ts'
import { Refused } from './calls.ts'
import type { ParamsOf, RpcProblem } from './protocol.ts'

/** What finding a match can fail with, and how a client gets it. */
const problems: { readonly [code: string]: RpcProblem } = {
  ZR_VENUE_FULL: 'full',
  ZR_VENUE_NOT_NOW: 'not-now',
  ZR_VENUE_UPGRADING: 'not-now',
}

/** Looks for a match. @throws Refused with what a client gets as the reason why there is none */
export async function orRefused<R>(mode: string | undefined, find: () => R | Promise<R>): Promise<R> {
  try {
    return await find()
  } catch (error) {
    throw refusedBy(error, mode)
  }
}

/** Returns what a client gets as the reason why no match was found. */
export function refusedBy(error: unknown, mode: string | undefined): unknown {
  if (!(error instanceof VenueError)) return error
  return new Refused(problems[error.code] ?? 'unknown-mode', { mode })
}

/** True for those who want no seat. */
export const watchesBy = (
  { watch }: Pick<ParamsOf<'join'>, 'watch'>,
  admission: Admission | undefined,
): boolean => watch !== undefined || (admission !== undefined && admission.role !== 'player')
