import type { Seat } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { roster } from '../roster/roster.ts'
import type { Match } from './shape.ts'

/** A real wound restarts the wait for regrowth. */
export function stirRegrowth(match: Match, seat: Seat) {
  const { regenDelay, regenRate, shieldDelay, shieldRate } = match.settings
  if (regenRate > 0) match.timers.start('regen', { in: regenDelay, key: seat })
  if (shieldRate > 0) match.timers.start('recharge', { in: shieldDelay, key: seat })
}

export function regrow(match: Match, seat: Seat) {
  const body = match.own.body.of(seat)
  if (body.down || !match.use(roster).isInPlay(seat)) return
  const gained = Math.min(match.settings.regenRate, body.max - body.health)
  if (gained <= 0) return
  body.health += gained
  match.emit('healed', { target: seat, amount: gained })
  if (body.health < body.max) match.timers.start('regen', { in: match.settings.regenEvery, key: seat })
}

export function recharge(match: Match, seat: Seat) {
  const body = match.own.body.of(seat)
  if (body.down || !match.use(roster).isInPlay(seat)) return
  const gained = Math.min(match.settings.shieldRate, body.shieldMax - body.shield)
  if (gained <= 0) return
  body.shield += gained
  match.emit('recharged', { target: seat, amount: gained })
  if (body.shield < body.shieldMax)
    match.timers.start('recharge', { in: match.settings.shieldEvery, key: seat })
}

export function beginDecay(match: Match, seat: Seat) {
  const { decay } = match.settings
  if (decay !== null) match.timers.start('decay', { every: decay.every, key: seat })
}

/** In proportion to what there is. It can't bring anybody down, and nobody gets credit for it. */
export function decayOnce(match: Match, seat: Seat) {
  const { decay } = match.settings
  const body = match.own.body.of(seat)
  if (decay === null || body.down || !match.use(roster).isInPlay(seat)) return
  const loss = Math.floor((body.health * decay.rate) / 1000)
  body.health = Math.min(body.health, Math.max(decay.least, body.health - loss))
}

export interface Affliction {
  readonly target: Seat
  readonly by: Seat | undefined
  readonly kind: string
  readonly amount: number
  readonly every: number
  readonly ticks: number
}

/** Given again by the same seat, its ticks are refilled and its beat stays. By another seat, it is separate. */
export function afflict(match: Match, { target, by, kind, amount, every, ticks }: Affliction) {
  if (!match.use(roster).isInPlay(target)) return refuse('not-in-play', { target })
  if (match.own.body.of(target).down) return refuse('target-down', { target })
  if (every < 1 || ticks < 1)
    return refuse('bad-input', {
      issues: [`'every' and 'ticks' must be at least 1, not ${every} and ${ticks}`],
    })
  const [former] = match.own.afflictions.where({ target }).filter((row) => row.kind === kind && row.by === by)
  if (former === undefined) {
    const { id } = match.own.afflictions.add({ target, kind, left: ticks, by, amount })
    match.timers.start('tick', { every, key: id })
  } else {
    former.left = ticks
    former.amount = amount
  }
  match.emit('afflicted', { target, by, kind, ticks })
  return undefined
}

/** The last tick ends it. A tick that protection stops, or that may not land, is used up all the same. */
export function tick(match: Match, id: string) {
  const row = match.own.afflictions.get(id)
  if (row === undefined) return match.timers.cancel('tick', id)
  const { target, by, kind, amount } = row
  row.left -= 1
  if (row.left === 0) endAffliction(match, id)
  match.resolve('hurt', { target, by, kind, amount, passive: true })
}

export function endAfflictions(match: Match, target: Seat) {
  for (const { id } of match.own.afflictions.where({ target })) endAffliction(match, id)
}

/** Ends everything that goes on over time for a seat. */
export function endOverTime(match: Match, seat: Seat) {
  endAfflictions(match, seat)
  for (const timer of ['regen', 'recharge', 'decay'] as const) match.timers.cancel(timer, seat)
}

function endAffliction(match: Match, id: string) {
  match.timers.cancel('tick', id)
  match.own.afflictions.remove(id)
}
