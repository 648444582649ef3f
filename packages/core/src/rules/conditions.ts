import type { Seat } from '../state/index.ts'

/** Those who win or lose together: a team where the rulebook has teams, else a seat. */
export interface Side {
  /** In play, by seat number. */
  readonly seats: readonly Seat[]
  /** In this bout; for a condition that decides rounds, in this round. */
  readonly score: number
  /** How long it has held things, ms of play time. */
  readonly held: number
  /** Rounds of this bout that it has won. */
  readonly wins: number
}
/** What a condition judges: the sides in play of this bout and how they stand, when a step has settled. */
export interface Field {
  readonly timeUp: boolean
  /** How many sides were in play when the bout began. */
  readonly began: number
  /** Those with a seat in play, by team or seat number. */
  readonly sides: readonly Side[]
  /** Who went out or left in this step. */
  readonly fell: readonly Seat[]
  /** When a round has just been decided: how many are left, and whether the bout ends once nobody can catch up. */
  readonly rounds: { readonly left: number; readonly bestOf: boolean } | undefined
}
/**
 * That the bout is decided, and for whom. Winners of one side win; those of several draw, unless the claim says that
 * they win together.
 */
export interface Claim {
  readonly winners: readonly Seat[]
  readonly kind?: 'win'
  readonly reason: string
}
interface Judge {
  readonly name: string
  /** Whether it can decide when the round's time is up. */
  readonly atTime: boolean
  judge(field: Field): Claim | undefined
}
/** A way for a bout, or for a round of it, to end. */
export interface Condition extends Judge {
  readonly scope: 'round' | 'bout'
  /** The same, for a round or for the whole bout; nothing said: for the bout. */
  decides(scope: 'round' | 'bout'): Condition
}

/** Makes a condition of a function that judges how the sides stand. */
export function condition(given: Judge, scope: 'round' | 'bout' = 'bout'): Condition {
  return { ...given, scope, decides: (other) => condition(given, other) }
}

/** When time is up, the highest score wins; level sides share a draw. */
export const mostAtTime: Condition = condition({
  name: 'most-at-time',
  atTime: true,
  judge({ timeUp, sides }) {
    return timeUp && sides.length > 0 ? { winners: seatsOf(best(sides)), reason: 'most-at-time' } : undefined
  },
})

/**
 * Who first reaches this score wins; if several do in one step, the highest of them, and level ones draw. With a `lead`
 * it must be ahead of all others by so much, until somebody reaches the `cap`.
 */
export function firstTo(goal: number, { lead = 0, cap }: { lead?: number; cap?: number } = {}): Condition {
  return condition({
    name: lead === 0 ? `first-to-${goal}` : `first-to-${goal}-by-${lead}`,
    atTime: false,
    judge({ sides }) {
      const [top = 0, second = Number.NEGATIVE_INFINITY] = sides
        .map(({ score }) => score)
        .sort((a, b) => b - a)
      const isAhead = lead === 0 || top - second >= lead || top >= (cap ?? Number.POSITIVE_INFINITY)
      return sides.length > 0 && top >= goal && isAhead
        ? { winners: seatsOf(best(sides)), reason: 'goal-reached' }
        : undefined
    },
  })
}

/** Who is left alone in play wins; where all that were left fall in one step, those draw. Never where one began alone. */
export const lastStanding: Condition = condition({
  name: 'last-standing',
  atTime: false,
  judge({ began, sides, fell }) {
    if (began < 2 || sides.length > 1) return undefined
    return { winners: sides.length === 1 ? seatsOf(sides) : fell, reason: 'last-standing' }
  },
})

/** When time is up, who has held things longest wins, or loses and all others win; level to the ms, they share it. */
export function longestHold(what: 'wins' | 'loses'): Condition {
  return condition({
    name: `longest-hold-${what}`,
    atTime: true,
    judge({ timeUp, sides }) {
      if (!timeUp || sides.length === 0) return undefined
      const most = Math.max(...sides.map(({ held }) => held))
      const longest = sides.filter(({ held }) => held === most)
      const others = sides.filter(({ held }) => held < most)
      const reason = 'longest-hold'
      // Nobody has held anything, or all as long: nobody stands out.
      if (most === 0 || what === 'wins' || others.length === 0)
        return { winners: seatsOf(most === 0 ? sides : longest), reason }
      return { winners: seatsOf(others), kind: 'win', reason }
    },
  })
}

/** Lets a side give up: of two the other wins, of more it is out. Not listed, nobody can. */
export const surrender: Condition = condition({ name: 'surrender', atTime: false, judge: () => undefined })

/** When nobody can catch up any more, or no round is left, who has won most rounds wins; level sides draw. */
export const mostRounds: Condition = condition({
  name: 'most-rounds',
  atTime: false,
  judge({ sides, rounds }) {
    if (rounds === undefined || sides.length === 0) return undefined
    const [top = 0, second = 0] = sides.map(({ wins }) => wins).sort((a, b) => b - a)
    if (rounds.left > 0 && !(rounds.bestOf && top - second > rounds.left)) return undefined
    return { winners: seatsOf(sides.filter(({ wins }) => wins === top)), reason: 'most-rounds' }
  },
})

function best(sides: readonly Side[]): readonly Side[] {
  const most = Math.max(...sides.map(({ score }) => score))
  return sides.filter(({ score }) => score === most)
}

const seatsOf = (sides: readonly Side[]): Seat[] => sides.flatMap(({ seats }) => seats)
