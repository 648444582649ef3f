import type { Admissions } from './admissions.ts'
import { venueError } from './errors.ts'
import { type Limits, usualLimits } from './limits.ts'

/** Every option of a kind, so that types say when one is missing here. */
export type Known<O> = { readonly [K in keyof O]-?: true }

const ofAdmissions: Known<Admissions> = { keys: true, issuer: true }

/**
 * Refuses what no option is called, also within `limits` and `admissions`. A misspelt option would change nothing: a
 * venue without the admissions that it was meant to have lets anybody in. @throws ZR_VENUE_UNKNOWN_OPTION
 */
export function assertKnown<O extends { limits?: Partial<Limits>; admissions?: Admissions }>(
  call: string,
  given: O,
  known: Known<O>,
): void {
  const each: readonly (readonly [string, object | undefined, object])[] = [
    [call, given, known],
    [`'limits' of ${call}`, given.limits, usualLimits],
    [`'admissions' of ${call}`, given.admissions, ofAdmissions],
  ]
  for (const [where, options = {}, names] of each)
    for (const option of Object.keys(options))
      if (!Object.hasOwn(names, option))
        throw venueError('ZR_VENUE_UNKNOWN_OPTION', { where, option, known: Object.keys(names) })
}
