import type { Seat } from '../cells/index.ts'
import type { NameOf, Reading, RuleLike, Spec } from '../rule/index.ts'
import { errands } from './errands/errands.ts'
import type { Camp } from './roles/camp.ts'
import { anyRoles } from './roles/roles.ts'

/** Those who win or lose together: a team if the rulebook has teams, otherwise a seat. */
export interface Side {
  /** Its seats in play, by seat number. */
  readonly seats: readonly Seat[]
  /** Its score in this bout; for a condition that decides rounds, in this round. */
  readonly score: number
  /** How long it has held things, in ms of play time. */
  readonly held: number
  /** How many rounds of this bout it has won. */
  readonly wins: number
}
/** What a condition judges: the sides in play and how they stand once a step has settled. */
export interface Field {
  /** True if the round's time is up. */
  readonly timeUp: boolean
  /** Number of sides in play when the bout began. */
  readonly began: number
  /** All seats that have not left, by seat number. */
  readonly seats: readonly Seat[]
  /** The sides with a seat in play, by team or seat number. */
  readonly sides: readonly Side[]
  /** The seats that were sidelined or left in this step. */
  readonly fell: readonly Seat[]
  /** If a round has just been decided: how many are left, and whether the bout ends as soon as nobody can catch up. */
  readonly rounds: { readonly left: number; readonly bestOf: boolean } | undefined
}
/**
 * Decides the bout, and for whom. If the winners are of one side, it wins; if they are of several, it is a draw,
 * unless the claim says that they win together.
 */
export interface Claim {
  /** The seats that win, or that share a draw. */
  readonly winners: readonly Seat[]
  /** The result if several sides share it. Default: 'draw'. A single side always wins. */
  readonly kind?: 'win' | 'draw'
  /** The reason for the verdict, in one word. */
  readonly reason: string
  /** True if a tie under this claim does not end a round with a sudden end: it goes on until one side leads. */
  readonly goesOn?: boolean
}
/** The match as a condition reads it: the calls of the rules that it needs. They can't change anything. */
interface Judged<N extends string> {
  use<S extends Spec>(
    rule: S['name'] extends N ? RuleLike<S> : `add ${S['name']} to the needs of the condition`,
  ): S['calls']
}
/** The parts of a condition. */
interface Judge<N extends readonly RuleLike[]> {
  readonly name: string
  /** True if it can decide when the round's time is up. Default: false. */
  readonly atTime?: boolean
  /**
   * The rules whose state it reads. A rulebook must have them, and the condition is judged again when that state
   * changes.
   */
  readonly needs?: N
  /**
   * Called when a step has settled that may decide something. Return nothing for no opinion: then the next condition
   * is asked. If no condition has an opinion when time is up, all are tied: overtime or a sudden end follows if the
   * rounds have one, otherwise the round is drawn. If it throws, the step fails.
   */
  judge(match: Judged<NameOf<N>>, field: Field): Claim | undefined
}
/** A way for a bout, or a round of it, to end. */
export interface Condition {
  /** Its name, as errors and pages show it. */
  readonly name: string
  /** True if it can decide when time is up. */
  readonly atTime: boolean
  /** The rules that it reads. It is judged again when their state changes. */
  readonly needs: readonly RuleLike[]
  /** Whether it decides rounds or the whole bout. */
  readonly scope: 'round' | 'bout'
  /** Returns who wins, or nothing if it has no opinion. */
  judge(match: Reading, field: Field): Claim | undefined
  /** Returns the same condition, for rounds or for the whole bout. Default: the bout. */
  decides(scope: 'round' | 'bout'): Condition
}

/** Makes a condition from a function that judges how the sides stand and what the rules in `needs` say. */
export function condition<const N extends readonly RuleLike[] = []>(
  { name, atTime = false, needs, judge }: Judge<N>,
  scope: 'round' | 'bout' = 'bout',
): Condition {
  return {
    name,
    atTime,
    needs: needs ?? [],
    scope,
    judge: (match, field) => judge(match as Judged<NameOf<N>>, field), // the rulebook has what it needs
    decides: (other) => condition({ name, atTime, ...(needs && { needs }), judge }, other),
  }
}

/** When time is up, the highest score wins. Tied sides share a draw. */
export const mostAtTime: Condition = condition({
  name: 'most-at-time',
  atTime: true,
  judge(_, { timeUp, sides }) {
    return timeUp && sides.length > 0 ? { winners: seatsOf(best(sides)), reason: 'most-at-time' } : undefined
  },
})

/**
 * The first to reach this score wins; if several do in one step, the highest. If they are tied, they draw, or with
 * `suddenEnd` the round goes on until one leads. With a `lead`, the winner must also be ahead of everyone else by
 * that much, until somebody reaches the `cap`.
 */
export function firstTo(goal: number, { lead = 0, cap }: { lead?: number; cap?: number } = {}): Condition {
  return condition({
    name: lead === 0 ? `first-to-${goal}` : `first-to-${goal}-by-${lead}`,
    judge(_, { sides }) {
      const [top = 0, second = Number.NEGATIVE_INFINITY] = sides
        .map(({ score }) => score)
        .sort((a, b) => b - a)
      const isAhead = lead === 0 || top - second >= lead || top >= (cap ?? Number.POSITIVE_INFINITY)
      return sides.length > 0 && top >= goal && isAhead
        ? { winners: seatsOf(best(sides)), reason: 'goal-reached', goesOn: true }
        : undefined
    },
  })
}

/** The last one in play wins. If all that were left go out in one step, they draw. Never applies if one began alone. */
export const lastStanding: Condition = condition({
  name: 'last-standing',
  judge(_, { began, sides, fell }) {
    if (began < 2 || sides.length > 1) return undefined
    return { winners: sides.length === 1 ? seatsOf(sides) : fell, reason: 'last-standing' }
  },
})

/**
 * When time is up, whoever has held things longest wins, or loses while all others win. Tied to the ms, they share
 * it.
 */
export function longestHold(what: 'wins' | 'loses'): Condition {
  return condition({
    name: `longest-hold-${what}`,
    atTime: true,
    judge(_, { timeUp, sides }) {
      if (!timeUp || sides.length === 0) return undefined
      const most = Math.max(...sides.map(({ held }) => held))
      const longest = sides.filter(({ held }) => held === most)
      const others = sides.filter(({ held }) => held < most)
      const reason = 'longest-hold'
      // If nobody has held anything, or all held it equally long, nobody stands out.
      if (most === 0 || what === 'wins' || others.length === 0)
        return { winners: seatsOf(most === 0 ? sides : longest), reason }
      return { winners: seatsOf(others), kind: 'win', reason }
    },
  })
}

/**
 * A secret camp wins as soon as it is as large as everyone else in play together, and the others win when none of it
 * is left. If both end in one step, those who fell draw. With 'more' the camp must outnumber the others.
 */
export function parity(secret: Camp, at: 'equal' | 'more' = 'equal'): Condition {
  return condition({
    name: `parity-${secret.camp}`,
    needs: [anyRoles],
    judge(match, { sides, seats, fell }) {
      const few = match.use(anyRoles).camp(secret)
      const inPlay = seatsOf(sides).filter((seat) => match.use(anyRoles).has(seat))
      const others = inPlay.filter((seat) => !few.includes(seat))
      const left = inPlay.length - others.length
      const reason = 'parity'
      if (left === 0)
        return others.length === 0
          ? { winners: fell, kind: 'draw', reason }
          : { winners: seats.filter((seat) => !few.includes(seat)), kind: 'win', reason }
      const enough = at === 'equal' ? left >= others.length : left > others.length
      return enough ? { winners: few, kind: 'win', reason } : undefined
    },
  })
}

const ALL_DONE = 'all-done'
/** When every errand is done, everyone in play wins together, or a camp does. Never applies if there are no errands. */
export const allDone: Condition & { wonBy(camp: Camp): Condition } = {
  ...condition({
    name: ALL_DONE,
    needs: [errands],
    judge: (match, { sides }) =>
      match.use(errands).allDone() ? { winners: seatsOf(sides), kind: 'win', reason: ALL_DONE } : undefined,
  }),
  wonBy: (camp) =>
    condition({
      name: ALL_DONE,
      needs: [errands, anyRoles],
      judge: (match) =>
        match.use(errands).allDone()
          ? { winners: match.use(anyRoles).camp(camp), kind: 'win', reason: ALL_DONE }
          : undefined,
    }),
}

/** When time is up, a camp wins. */
export const timeUp: { wonBy(camp: Camp): Condition } = {
  wonBy: (camp) =>
    condition({
      name: `time-up-${camp.camp}`,
      atTime: true,
      needs: [anyRoles],
      judge: (match, { timeUp }) =>
        timeUp ? { winners: match.use(anyRoles).camp(camp), kind: 'win', reason: 'time-up' } : undefined,
    }),
}

/** Lets a side give up: of two sides, the other wins; of more, it is out. If it isn't listed, nobody can give up. */
export const surrender: Condition = condition({ name: 'surrender', atTime: false, judge: () => undefined })

/** When nobody can catch up any more, or no round is left, whoever has won most rounds wins. Tied sides draw. */
export const mostRounds: Condition = condition({
  name: 'most-rounds',
  judge(_, { sides, rounds }) {
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
