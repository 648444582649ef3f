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

export function giveLives(match: Match) {
  const { lives, shared } = match.settings
  for (const seat of match.seats) match.own.lives.of(seat).left = shared ? undefined : (lives ?? undefined)
  fillPools(match)
}

function fillPools(match: Match) {
  const { lives, shared } = match.settings
  const pools =
    shared && lives !== null ? match.seats.map((seat) => [poolOf(match, seat), lives] as const) : []
  match.own.pool.left = new Map(pools)
}

/** A late joiner has lives of its own, and brings none to its team. */
export function welcome(match: Match, seat: Seat) {
  const { lives, shared } = match.settings
  if (!shared) match.own.lives.of(seat).left = lives ?? undefined
  else if (lives !== null && !match.own.pool.left.has(poolOf(match, seat)))
    match.own.pool.left = withEntry(match.own.pool.left, poolOf(match, seat), lives)
}

/** With lives for each round, all start again, and a seat that was out is in again. */
export function renewLives(match: Match) {
  if (match.settings.livesPer !== 'round') return
  giveLives(match)
  for (const seat of match.seats) match.use(roster).bringIn(seat)
}
