import type { Seat } from '../../cells/index.ts'
import { idle, refuse } from '../../rule/index.ts'
import { roster } from '../roster/roster.ts'
import { partsOf } from './layers.ts'
import { endOverTime, stirRegrowth } from './over-time.ts'
import { endProtection, isProtected } from './protection.ts'
import type { Match } from './shape.ts'

export interface Blow {
  readonly target: Seat
  readonly amount: number
  readonly by: Seat | undefined
  readonly kind: string
  readonly through: string | undefined
  readonly passive: boolean
}

/** True if protection stops this blow. */
function isBlocked(match: Match, { target, by }: Blow): boolean {
  if (!isProtected(match, target)) return false
  return match.settings.protects === 'all' || (by !== undefined && by !== target)
}

export function strike(match: Match, blow: Blow) {
  const { target, amount, by, kind } = blow
  const { settings } = match
  if (!match.use(roster).isInPlay(target)) return refuse('not-in-play', { target })
  const body = match.own.body.of(target)
  if (body.down) return refuse('target-down', { target })
  if (settings.absentBody === 'safe' && !match.use(roster).isHere(target))
    return refuse('target-absent', { target })
  if (by !== undefined && by !== target) {
    if (settings.lateBlows === 'drop' && match.own.body.of(by).down) return idle
    if (settings.strikingEnds && !blow.passive && isProtected(match, by))
      match.own.step.strikers = [...match.own.step.strikers, by]
  }
  if (isBlocked(match, blow)) {
    match.emit('blocked', { target, by })
    return idle
  }
  if (amount === 0) return undefined
  const parts = partsOf(amount, body, blow.through)
  body.shield -= parts.shield
  if (parts.health > 0) {
    body.health -= parts.health
    body.struckBy = by
    body.struckHow = kind
    if (body.health === 0 && settings.downAt0) match.own.step.fallen = [...match.own.step.fallen, target]
  }
  if (parts.shield + parts.health > 0) stirRegrowth(match, target)
  match.emit('wounded', { target, by, kind, ...parts })
  return undefined
}

/**
 * Brings a seat down without any blow, whatever protects it. Whoever struck it before gets no credit, unless a rule
 * says so.
 */
export function fell(match: Match, target: Seat, cause: string) {
  if (!match.use(roster).isInPlay(target)) return refuse('not-in-play', { target })
  const body = match.own.body.of(target)
  if (body.down || match.own.step.fallen.includes(target)) return refuse('target-down', { target })
  body.health = 0
  body.struckBy = undefined
  body.struckHow = cause
  match.own.step.fallen = [...match.own.step.fallen, target]
  return undefined
}

export function heal(match: Match, target: Seat, amount: number) {
  if (!match.use(roster).isInPlay(target)) return refuse('not-in-play', { target })
  const body = match.own.body.of(target)
  // A seat that has reached 0 in this step goes down at the end of the step.
  if (body.down || match.own.step.fallen.includes(target)) return refuse('target-down', { target })
  const gained = Math.min(amount, body.max - body.health)
  if (gained <= 0) return undefined
  body.health += gained
  match.emit('healed', { target, amount: gained })
  return undefined
}

/** Protection ends for those who struck. Then those at 0 go down, in the order in which they reached it. */
export function settleStep(match: Match) {
  const { fallen, strikers } = match.own.step
  if (strikers.length > 0) match.own.step.strikers = []
  for (const seat of strikers) endProtection(match, seat)
  const together = fallen.filter(
    (seat) => match.own.body.of(seat).health === 0 && match.use(roster).isInPlay(seat),
  )
  if (fallen.length > 0) match.own.step.fallen = []
  for (const seat of together) {
    match.own.body.of(seat).down = true
    match.own.body.of(seat).downAt = match.time.match
    endProtection(match, seat)
    endOverTime(match, seat)
  }
  for (const seat of together) {
    const { struckBy, struckHow } = match.own.body.of(seat)
    match.emit('down', { seat, by: struckBy, cause: struckHow, together })
  }
}
