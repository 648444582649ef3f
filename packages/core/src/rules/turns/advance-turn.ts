import type { Seat } from '../../cells/index.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { beginCycle } from './order.ts'
import type { Match } from './shape.ts'
import { enterFirst } from './steps.ts'

const isHere = (match: Match, seat: Seat): boolean => match.use(roster).isHere(seat)
const isInPlay = (match: Match, seat: Seat): boolean => match.use(roster).isInPlay(seat)

/** Runs for `turnTime` plus what the seat has in its bank. A seat that is waited for has no time limit. */
export function startClock(match: Match) {
  const { now } = match.own
  const { turnTime, absentTurn } = match.settings
  if (turnTime === null) return
  if (absentTurn === 'wait' && now.seats.every((seat) => !isHere(match, seat))) return
  const bank = now.seat === undefined ? 0 : match.own.seats.of(now.seat).bank
  match.timers.start('clock', { in: turnTime + bank })
  now.ends = match.time.turn + turnTime + bank
}

function begin(match: Match, seats: readonly Seat[]) {
  const { now } = match.own
  match.beginSpan('turn')
  now.seats = seats
  now.seat = seats.length === 1 ? seats[0] : undefined
  now.turn += 1
  now.began = match.time.turn
  now.timedOut = false
  startClock(match)
  match.emit('began', { seat: now.seat, turn: now.turn })
  enterFirst(match)
  if (!now.seats.some((seat) => isAwaited(match, seat))) now.timedOut = true
}

/** Without a clock, the turn of an absent seat would never end. */
export const isAwaited = (match: Match, seat: Seat): boolean =>
  isHere(match, seat) || match.settings.absentTurn === 'wait' || match.settings.turnTime !== null

/** The oldest extra turn of a seat in play. Those of other seats are dropped, with an event. */
function takeExtra(match: Match): Seat | undefined {
  const { order } = match.own
  while (order.extra.length > 0) {
    const seat = match.settings.extraOrder === 'oldest' ? order.extra[0] : order.extra.at(-1)
    order.extra = match.settings.extraOrder === 'oldest' ? order.extra.slice(1) : order.extra.slice(0, -1)
    if (seat === undefined) continue
    if (isInPlay(match, seat)) return seat
    match.emit('extra-dropped', { seat, why: match.seating.isGone(seat) ? 'left' : 'out' })
  }
  return undefined
}

/** Why a seat's regular turn does not take place. */
function reasonToSkip(match: Match, seat: Seat): string | undefined {
  const row = match.own.seats.of(seat)
  if (row.misses > 0) {
    row.misses -= 1
    return 'missed'
  }
  if (row.passed && match.settings.passing === 'out-for-cycle') return 'passed'
  if (isHere(match, seat)) return undefined
  row.away += 1
  return match.settings.absentTurn === 'skip' || row.away > match.settings.skipAfter ? 'absent' : undefined
}

/**
 * Returns the next seat in order whose turn takes place; cycles may end on the way. Nobody if all are absent: then
 * turns wait.
 */
function nextInOrder(match: Match): Seat | undefined {
  const { order } = match.own
  const able = match.use(roster).inPlay()
  if (able.every((seat) => !isHere(match, seat)) && match.settings.absentTurn !== 'wait') return undefined
  for (let cycles = 0; cycles < 1000; ) {
    const seat = order.seats[order.at]
    if (seat === undefined) {
      if (!endCycle(match)) return undefined
      cycles++
      if (order.seats.length === 0) return undefined
      continue
    }
    order.at += 1
    if (!isInPlay(match, seat)) continue
    const why = reasonToSkip(match, seat)
    if (why === undefined) return seat
    if (why === 'passed') continue
    match.own.seats.of(seat).skipped = true
    match.emit('skipped', { seat, why })
    if (areAllOut(match)) return endEarly(match)
  }
  return undefined
}

/**
 * True if everyone in this cycle has passed or was skipped since anybody did something else. A seat that joins waits
 * for the next.
 */
const areAllOut = (match: Match): boolean =>
  match.own.order.seats
    .filter((seat) => isInPlay(match, seat))
    .every((seat) => match.own.seats.of(seat).passed || match.own.seats.of(seat).skipped)

/** Announced and handled before the next cycle begins. */
function endEarly(match: Match): undefined {
  match.emit('all-passed', {})
  if (match.settings.allPass === 'end-round') match.use(rounds)?.endNow()
  clearPasses(match)
  match.own.order.at = match.own.order.seats.length + 1
}

/**
 * Ends the cycle and begins the next. The first time it only announces that, and returns false: rules may hold turns
 * before the next cycle. If a seat that passes is out for the cycle, the cycle lasts until all have passed: the others
 * go round again.
 */
function endCycle(match: Match): boolean {
  const { now, order } = match.own
  const isEarly = order.at > order.seats.length
  if (!isEarly && match.settings.passing === 'out-for-cycle') {
    order.at = 0
    return true
  }
  order.ending = !order.ending
  if (order.ending) {
    match.emit('cycle-ending', { cycle: now.cycle })
    return false
  }
  match.emit('cycle-ended', { cycle: now.cycle })
  beginCycle(match)
  return true
}

export function clearPasses(match: Match) {
  for (const seat of match.seating.all) {
    const row = match.own.seats.of(seat)
    row.passed = false
    row.skipped = false
  }
}

export function beginTurn(match: Match) {
  const extra = takeExtra(match)
  if (extra !== undefined) return begin(match, [extra])
  if (match.settings.order !== 'together') {
    const next = nextInOrder(match)
    return next === undefined ? undefined : begin(match, [next])
  }
  if (match.own.now.turn > 0 && !endCycle(match)) return undefined
  const all = match.own.order.seats.filter((seat) => isInPlay(match, seat))
  const here = match.settings.turnTime === null ? all.filter((seat) => isHere(match, seat)) : all
  return here.length === 0 ? undefined : begin(match, here)
}

/** What was used beyond the turn's time is taken from the bank, and something is added after each turn. */
function settleBank(match: Match, seat: Seat) {
  const { turnTime, addPerTurn, maxBank } = match.settings
  if (turnTime === null) return
  const row = match.own.seats.of(seat)
  const used = match.time.turn - match.own.now.began
  const left = match.own.now.timedOut ? 0 : row.bank - Math.max(0, used - turnTime)
  row.bank = Math.min(maxBank ?? Number.MAX_SAFE_INTEGER, left + addPerTurn)
}

const isPass = (why: string): boolean => why === 'passed' || why === 'stuck' || why === 'time-out'

export function endTurn(match: Match) {
  const { now } = match.own
  const { ending: why, seat, seats } = now
  match.timers.cancel('clock')
  now.ends = undefined
  if (why === 'stuck') now.stuck += 1
  else if (why !== 'time-out') now.stuck = 0
  if (match.settings.takingBack) match.takeBack.finalize()
  if (seat !== undefined) settleBank(match, seat)
  for (const each of seats) {
    const row = match.own.seats.of(each)
    row.budget = 0
    row.owes = new Map()
    if (seat !== undefined && isInPlay(match, each)) row.passed = isPass(why)
  }
  const passes = seats.every((each) => match.own.seats.of(each).passed)
  if (!passes && match.settings.passing !== 'out-for-cycle') clearPasses(match)
  if (!passes) for (const each of match.seating.all) match.own.seats.of(each).skipped = false
  match.emit('ended', { seat, turn: now.turn, why })
  if (areAllOut(match)) endEarly(match)
  now.seats = []
  now.seat = undefined
  now.ending = ''
  now.step = ''
  now.timedOut = false
}
