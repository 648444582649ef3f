import type { Seat } from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'
import { type AnyMatch, type AnyRulebook, beginAnyMatch } from '../rulebook/index.ts'

/** The match that a tool plays: its seats, rules and settings. */
export interface PlayRequest {
  /** The seats that play, by id. */
  readonly seats: readonly Seat[]
  /** The seed. Default: 'fair-1'. */
  readonly seed?: string
  /** Optional rules that the match uses. Default: none. */
  readonly with?: readonly string[]
  /** Settings by rule, over those of the rulebook. */
  readonly settings?: object
}

/**
 * Begins a match, seats everyone and plays on to the first ms of live play. @throws ZR_MATCH_MISUSED if no match
 * begins with these seats
 */
export function beginPlay(
  book: AnyRulebook,
  { seats, seed = 'fair-1', with: taken = [], settings = {} }: PlayRequest,
  listeners: Pick<Parameters<typeof beginAnyMatch>[1], 'record' | 'onFault'> = {},
): AnyMatch {
  const match = beginAnyMatch(book, { seed, with: taken, settings, ...listeners })
  for (const seat of seats) match.direct('roster.join', { seat, name: seat })
  for (const seat of seats) match.submit(seat, 'roster.ready', {})
  if (match.nextDue !== undefined) match.advanceTo(match.nextDue)
  if (match.state.phases.now.phase !== 'live')
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `The match did not begin with ${seats.length} seats`,
      fix: 'Name as many as the rulebook needs, each once',
    })
  return match
}
