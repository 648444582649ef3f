import type { Seat } from '../state/index.ts'

/** What a condition judges: the seats in play of this bout and how they stand, when a step has settled. */
export interface Field {
  readonly timeUp: boolean
  /** How many were in play when the bout began. */
  readonly began: number
  /** In play, by seat number. */
  readonly seats: readonly Side[]
  /** Who went out or left in this step. */
  readonly fell: readonly Seat[]
}
export interface Side {
  readonly seat: Seat
  readonly score: number
  /** How long it has held things, ms of play time. */
  readonly held: number
}
/** That the bout is decided, and for whom. Several winners are a draw, unless the claim says that they win together. */
export interface Claim {
  readonly winners: readonly Seat[]
  readonly kind?: 'win'
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

/**
 * Who first reaches this score wins; if several do in one step, the highest of them, and level ones draw. With a `lead`
 * it must be ahead of all others by so much, until somebody reaches the `cap`.
 */
export function firstTo(goal: number, { lead = 0, cap }: { lead?: number; cap?: number } = {}): Condition {
  return {
    name: lead === 0 ? `first-to-${goal}` : `first-to-${goal}-by-${lead}`,
    atTime: false,
    judge({ seats }) {
      const [top = 0, second = Number.NEGATIVE_INFINITY] = seats
        .map(({ score }) => score)
        .sort((a, b) => b - a)
      const isAhead = lead === 0 || top - second >= lead || top >= (cap ?? Number.POSITIVE_INFINITY)
      return seats.length > 0 && top >= goal && isAhead
        ? { winners: best(seats), reason: 'goal-reached' }
        : undefined
    },
  }
}

/** Who is left alone in play wins; where all that were left fall in one step, those draw. Never where one began alone. */
export const lastStanding: Condition = {
  name: 'last-standing',
  atTime: false,
  judge({ began, seats, fell }) {
    if (began < 2 || seats.length > 1) return undefined
    return { winners: seats.length === 1 ? seats.map(({ seat }) => seat) : fell, reason: 'last-standing' }
  },
}

/** When time is up, who has held things longest wins, or loses and all others win; level to the ms, they share it. */
export function longestHold(what: 'wins' | 'loses'): Condition {
  return {
    name: `longest-hold-${what}`,
    atTime: true,
    judge({ timeUp, seats }) {
      if (!timeUp || seats.length === 0) return undefined
      const most = Math.max(...seats.map(({ held }) => held))
      const longest = seats.filter(({ held }) => held === most)
      const others = seats.filter(({ held }) => held < most)
      const reason = 'longest-hold'
      // Nobody has held anything, or all as long: nobody stands out.
      if (most === 0 || what === 'wins' || others.length === 0)
        return { winners: (most === 0 ? seats : longest).map(({ seat }) => seat), reason }
      return { winners: others.map(({ seat }) => seat), kind: 'win', reason }
    },
  }
}

function best(seats: Field['seats']): Seat[] {
  const most = Math.max(...seats.map(({ score }) => score))
  return seats.filter(({ score }) => score === most).map(({ seat }) => seat)
}
