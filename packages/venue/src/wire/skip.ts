import { z } from 'zod'
import type { HostedMatch } from '../matches/index.ts'

/** The directive by which a referee lets time pass at once. It is the venue's own: the engine has no clock. */
export const SKIP = 'venue.skip'

const HOUR = 3_600_000
const input = z.strictObject({ for: z.int().min(1).max(HOUR).optional() })

/**
 * Lets time of a match pass at once: `for` n ms, or until the next thing is due. A match that is paused goes on for that
 * long, and is paused again. Returns the ruling as JSON text.
 */
export function skip(hosted: HostedMatch, given: unknown, how: { readonly referee?: string }): string {
  const parsed = input.safeParse(given)
  if (!parsed.success)
    return refusal('bad-input', "Leave 'for' out, or give whole ms from 1 to an hour, as in { for: 1000 }.")
  const direct = (directive: string): void => void hosted.run((match) => match.direct(directive, {}, how))
  const isPaused = hosted.match.state.phases.now.paused
  if (isPaused) direct('phases.resume')
  const due = hosted.run((match) => match.nextDue)
  const ms = parsed.data.for ?? (due === undefined ? undefined : Math.max(1, due - hosted.now()))
  if (ms !== undefined) hosted.skip(ms)
  if (isPaused) direct('phases.pause')
  return ms === undefined
    ? refusal('nothing-due', "Nothing is due. Say how many ms should pass, in 'for'.")
    : '{"ok":true}'
}

const refusal = (code: string, says: string): string => JSON.stringify({ ok: false, code, says })
