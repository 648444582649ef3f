import type { Seat } from '../../cells/index.ts'
import { withEntry } from '../../kit/index.ts'
import { roster } from '../roster/roster.ts'
import { teams } from '../teams/teams.ts'
import type { Match } from './shape.ts'

const poolOf = (match: Match, seat: Seat): string => String(match.use(teams)?.of(seat) ?? '')

function addToPool(match: Match, seat: Seat, amount: number) {
  const { pool } = match.own
  const name = poolOf(match, seat)
  const left = pool.left.get(name)
  if (left !== undefined) pool.left = withEntry(pool.left, name, left + amount)
}

/** Uses up a life, or one of the team's returns. Returns true if the seat may come back. */
export function takeLife(match: Match, seat: Seat): boolean {
  const lives = match.own.lives.of(seat)
  lives.downs += 1
  if (lives.left !== undefined) lives.left -= 1
  if (match.settings.mode === 'never' || lives.left === 0) return false
  return takeReturn(match, seat)
}

/** Uses one of the team's returns, if they are shared. */
export function takeReturn(match: Match, seat: Seat): boolean {
  if (!match.settings.shared) return true
  if (match.own.pool.left.get(poolOf(match, seat)) === 0) return false
  addToPool(match, seat, -1)
  return true
}

/**
 * Gives back what was taken for a return that does not take place: to the pool, or, if the seat was raised, to the
 * seat. At the end of a round it stays used: the start of the next round is the return.
 */
export function giveBack(match: Match, seat: Seat, why: string) {
  if (why === 'round-over' || why === 'over') return
  const lives = match.own.lives.of(seat)
  if (match.settings.shared) addToPool(match, seat, 1)
  else if (why === 'raised' && lives.left !== undefined) lives.left += 1
}

/** Returns how many lives a seat begins with, or how many returns its team has. Returns nothing if there is no limit. */
function livesFor(match: Match, seat: Seat): number | undefined {
  const { lives, livesBy } = match.settings
  return livesBy[match.use(teams)?.of(seat) ?? match.seating.number(seat) - 1] ?? lives ?? undefined
}

export function giveLives(match: Match) {
  match.own.pool.out = []
  for (const seat of match.seats)
    match.own.lives.of(seat).left = match.settings.shared ? undefined : livesFor(match, seat)
  fillPools(match)
}

/** A seat has no life left: it watches. */
export function bow(match: Match, seat: Seat) {
  match.own.pool.out = [...match.own.pool.out.filter((each) => each !== seat), seat]
  match.use(roster).sideline(seat, 'no-lives')
}

/** Gives lives to a seat, or returns to its team. With `reclaim`, those who are out use them. */
export function giveMore(match: Match, seat: Seat, more: number) {
  const { reclaim, shared } = match.settings
  const own = match.own.lives.of(seat)
  if (shared) addToPool(match, seat, more)
  else if (own.left !== undefined) own.left += more
  if (!reclaim) return
  const mine = (each: Seat): boolean => (shared ? poolOf(match, each) === poolOf(match, seat) : each === seat)
  for (const each of match.own.pool.out.filter(mine)) {
    if (match.seating.isGone(each) || !(shared ? takeReturn(match, each) : own.left !== 0)) continue
    match.own.pool.out = match.own.pool.out.filter((other) => other !== each)
    match.use(roster).bringIn(each)
  }
}

function fillPools(match: Match) {
  match.own.pool.left = new Map()
  if (match.settings.shared) for (const seat of match.seats) openPool(match, seat)
}

function openPool(match: Match, seat: Seat) {
  const { pool } = match.own
  const lives = livesFor(match, seat)
  if (lives !== undefined && !pool.left.has(poolOf(match, seat)))
    pool.left = withEntry(pool.left, poolOf(match, seat), lives)
}

/** A late joiner has lives of its own, and brings none to its team. */
export function welcome(match: Match, seat: Seat) {
  if (match.settings.shared) openPool(match, seat)
  else match.own.lives.of(seat).left = livesFor(match, seat)
}

/** With lives for each round, all start again, and a seat that was out is in again. */
export function renewLives(match: Match) {
  if (match.settings.livesPer !== 'round') return
  giveLives(match)
  for (const seat of match.seats) match.use(roster).bringIn(seat)
}
