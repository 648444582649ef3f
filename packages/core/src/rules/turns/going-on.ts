import type { Seat } from '../../cells/index.ts'
import { withItem, withoutItem } from '../../kit/index.ts'
import { refuse } from '../../rule/index.ts'
import { roster } from '../roster/roster.ts'
import { beginTurn, endTurn, isAwaited } from './advance-turn.ts'
import { arrange } from './order.ts'
import { type Match, WINDOW } from './shape.ts'
import { doDefaults, hasLeft, nextStep, owed, stepNamed } from './steps.ts'

/** If nobody is there, turns are not skipped round and round. */
export const ALL_AWAY = 'all-away'

export function beginRound(match: Match) {
  const { now } = match.own
  match.timers.cancel('clock')
  now.seats = []
  now.seat = undefined
  now.step = ''
  now.ending = ''
  now.stuck = 0
  now.finished = false
  for (const seat of match.seating.all) match.own.seats.of(seat).bank = match.settings.bank
  arrange(match)
  beginTurn(match)
}

/** A seat takes no further part: its turn ends now, and what it has done stands. */
export function endFor(match: Match, seat: Seat, why: string) {
  const { now } = match.own
  if (!now.seats.includes(seat) || now.step === '') return
  if (now.seats.length > 1) now.seats = now.seats.filter((each) => each !== seat)
  else if (now.ending === '') now.ending = why
}

/** While everybody is away no turn begins, but that of a seat that has left is over. */
export function endForGone(match: Match) {
  const { ending, seats, held } = match.own.now
  if (!held.has(ALL_AWAY) || held.size > 1) return
  if (ending !== '' && seats.length > 0 && seats.every((seat) => match.seating.isGone(seat))) endTurn(match)
}

/** True if nobody who is here has had an option since somebody last did something. */
const areAllStuck = (match: Match): boolean => {
  const here = match.own.order.seats.filter((seat) => match.use(roster).isHere(seat))
  return match.own.now.stuck >= Math.max(1, here.length)
}

/**
 * The seat has no option here, so the step is over for it, and after the last step so is its turn. When nobody had one in
 * a whole cycle, the turn waits for one, a pass or the clock.
 */
function isStuck(match: Match): boolean {
  const step = stepNamed(match, match.own.now.step)
  return (
    match.settings.passing === 'never' &&
    !areAllStuck(match) &&
    step !== undefined &&
    match.own.now.seats.every((seat) => owed(match, seat, step.step) === 0 && !match.canAct(seat, step))
  )
}

/** While turns stand still, nobody acts in them. */
export function notInTurn(match: Match, seat: Seat) {
  const { held, seats } = match.own.now
  if (held.size > 0) return refuse(held.has(WINDOW) ? 'window-open' : 'not-now')
  return seats.includes(seat) ? undefined : refuse('not-your-turn')
}

/** A seat can't end its turn as long as it owes something. */
export function passRefusal(match: Match, seat: Seat) {
  const refusal = notInTurn(match, seat)
  if (refusal !== undefined) return refusal
  if (match.settings.passing === 'never' && !areAllStuck(match)) return refuse('cannot-pass')
  const step = match.config.steps.find((each) => owed(match, seat, each.step) > 0)
  return step === undefined ? undefined : refuse('owes', { step: step.step })
}

/** One move at a time: its events are handled before the next move is made. */
export function goOn(match: Match) {
  const { now } = match.own
  if (now.step === '') beginTurn(match)
  else if (now.ending !== '') endTurn(match)
  else if (now.timedOut) {
    if (match.settings.timeOut === 'defaults') doDefaults(match)
    else now.ending = 'time-out'
    if (now.ending === '') nextStep(match, 'time-out')
  } else if (!now.seats.some((seat) => hasLeft(match, seat))) nextStep(match, 'done')
  else if (!now.seats.some((seat) => hasLeft(match, seat) && isAwaited(match, seat))) now.timedOut = true
  else if (isStuck(match)) {
    for (const seat of now.seats) match.own.seats.of(seat).budget = 0
    nextStep(match, 'stuck')
  }
}

export function holdTurns(match: Match, why: string) {
  match.own.now.held = withItem(match.own.now.held, why)
  match.clocks.pause('turn')
}

export const isAnyHere = (match: Match): boolean =>
  match
    .use(roster)
    .inPlay()
    .some((seat) => match.use(roster).isHere(seat))

export function holdIfAllAway(match: Match) {
  if (!isAnyHere(match)) holdTurns(match, ALL_AWAY)
}

export function resumeTurns(match: Match, why: string) {
  if (!match.own.now.held.has(why)) return
  match.own.now.held = withoutItem(match.own.now.held, why)
  if (match.own.now.held.size === 0 && match.clocks.runs('play')) match.clocks.resume('turn')
}

export function stayHeld(match: Match) {
  if (match.own.now.held.size > 0) match.clocks.pause('turn')
}

export function useUp(match: Match, seat: Seat) {
  match.own.seats.of(seat).budget = 0
}
