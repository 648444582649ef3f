import type { Seat } from '../state/index.ts'

/** What a condition judges: the seats in play of this bout and how they stand, when a step has settled. */
export interface Field {
  readonly timeUp: boolean
  /** In play, by seat number. */
  readonly seats: readonly { readonly seat: Seat; readonly score: number }[]
}
/** That the bout is decided, and for whom; several winners are a draw. */
export interface Claim {
  readonly winners: readonly Seat[]
  readonly reason: string
}
/** A way for a bout to end. */
export interface Condition {
  readonly name: string
  /** Whether it can decide when the round's time is up. */
  readonly atTime: boolean
  judge(field: Field): Claim | undefined
}

/** When time is up, the highest score wins; level seats share a draw. */
export const mostAtTime: Condition = {
  name: 'most-at-time',
  atTime: true,
  judge({ timeUp, seats }) {
    return timeUp && seats.length > 0 ? { winners: best(seats), reason: 'most-at-time' } : undefined
  },
}

/** Who first reaches this score wins; if several do in one step, the highest of them, and level ones draw. */
export function firstTo(goal: number): Condition {
  return {
    name: `first-to-${goal}`,
    atTime: false,
    judge({ seats }) {
      const there = seats.filter(({ score }) => score >= goal)
      return there.length === 0 ? undefined : { winners: best(there), reason: 'goal-reached' }
    },
  }
}

function best(seats: Field['seats']): Seat[] {
  const most = Math.max(...seats.map(({ score }) => score))
  return seats.filter(({ score }) => score === most).map(({ seat }) => seat)
}
