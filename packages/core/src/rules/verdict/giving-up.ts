import type { Claim, Side } from '../conditions.ts'
import { roster } from '../roster/roster.ts'
import { teams } from '../teams/teams.ts'
import type { Match } from './shape.ts'
import { sidesAmong } from './sides.ts'

/** A side gives up when enough of its seats that are present want to. Of two sides the other wins; of more, it is out. */
export function givenUp(match: Match, sides: readonly Side[]): Claim | undefined {
  const gaveUp = sides.find(({ seats }) => {
    const here = seats.filter((seat) => match.use(roster).isHere(seat))
    const asking = here.filter((seat) => match.own.wishes.of(seat).surrender)
    return here.length > 0 && asking.length >= Math.ceil(match.settings.giveUpShare * here.length)
  })
  if (gaveUp === undefined) return undefined
  if (sides.length === 2)
    return { winners: sides.flatMap((each) => (each === gaveUp ? [] : each.seats)), reason: 'surrender' }
  for (const seat of gaveUp.seats) match.use(roster).sideline(seat, 'surrender')
  return undefined
}

/**
 * With at most one side left in play the bout is decided, if there were others before: at once, or when the last one has
 * waited long enough. Too short a bout does not count.
 */
export function forfeit(match: Match, [last, other]: readonly Side[]): Claim | undefined {
  if (last === undefined) return { winners: [], reason: 'nobody-left' }
  const isAlone = other === undefined && sidesAmong(match, match.use(roster).all()) > 1
  if (!isAlone || match.use(teams)?.mayBeEmpty()) return stopWaiting(match)
  const { forfeitAfter, tooShort } = match.settings
  if (forfeitAfter > 0 && !match.own.waited.forfeit) {
    if (!match.timers.runs('forfeit')) match.timers.start('forfeit', { in: forfeitAfter })
    return undefined
  }
  return match.time.play < tooShort
    ? { winners: [], reason: 'too-short' }
    : { winners: last.seats, reason: 'forfeit' }
}

function stopWaiting(match: Match): undefined {
  if (match.settings.forfeitAfter === 0) return
  match.timers.cancel('forfeit')
  if (match.own.waited.forfeit) match.own.waited.forfeit = false
}
