import type { Seat } from '../../cells/index.ts'
import type { Match } from './shape.ts'

export const isProtected = (match: Match, seat: Seat): boolean =>
  match.own.body.of(seat).protectedUntil !== undefined

/** Until then (in ms of play time from now) no blow of others lands. A longer protection stays. */
export function protect(match: Match, seat: Seat, ms: number) {
  const body = match.own.body.of(seat)
  const until = Math.max(body.protectedUntil ?? 0, match.time.play + ms)
  if (until <= match.time.play) return
  body.protectedUntil = until
  match.timers.start('protection', { key: seat, at: until })
}

export function endProtection(match: Match, seat: Seat) {
  match.own.body.of(seat).protectedUntil = undefined
  match.timers.cancel('protection', seat)
}
