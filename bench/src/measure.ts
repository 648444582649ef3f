import { performance } from 'node:perf_hooks'

/** One row of the results. */
export interface Row {
  readonly name: string
  readonly value: number
  readonly unit: string
  readonly goal: string
  readonly met: boolean
  /** The quarter and three-quarter points of the rounds. */
  readonly spread?: readonly [number, number]
}
/** What a row must reach; nothing for a time of its own, which follows the machine. */
export type Goal = { readonly most: number } | { readonly least: number } | undefined
/** Does a round's work and returns how many ms of it count. */
export type Round = () => number

const WARM_UP = 12
const ROUNDS = 61

/** How long a piece of work takes, ms. */
export function timed(work: () => void): number {
  const began = performance.now()
  work()
  return performance.now() - began
}

export function row(
  name: string,
  value: number,
  unit: string,
  goal: Goal,
  spread?: readonly [number, number],
): Row {
  return {
    name,
    value: rounded(value),
    unit,
    ...judged(rounded(value), goal),
    ...(spread && { spread: [rounded(spread[0]), rounded(spread[1])] as const }),
  }
}

function judged(value: number, goal: Goal): Pick<Row, 'goal' | 'met'> {
  if (goal === undefined) return { goal: '', met: true }
  return 'most' in goal
    ? { goal: `≤ ${goal.most}`, met: value <= goal.most }
    : { goal: `≥ ${goal.least}`, met: value >= goal.least }
}

/**
 * The ratio of two kinds of work: in each round both are done, in an order that changes, and the median of the rounds'
 * ratios is the result. Times of one process are compared with each other only.
 */
export function ratio(name: string, goal: Goal, above: Round, below: Round, rounds: number = ROUNDS): Row {
  for (let n = 0; n < Math.min(WARM_UP, rounds); n++) {
    above()
    below()
  }
  const ratios: number[] = []
  for (let n = 0; n < rounds; n++) {
    const aboveFirst = n % 2 === 0
    const first = aboveFirst ? above() : below()
    const second = aboveFirst ? below() : above()
    ratios.push(aboveFirst ? first / second : second / first)
  }
  const at = quantiles(ratios)
  return row(name, at(0.5), '×', goal, [at(0.25), at(0.75)])
}

/** A figure of its own, the median of rounds. */
export function figure(name: string, unit: string, goal: Goal, round: Round, rounds = 15): Row {
  for (let n = 0; n < WARM_UP; n++) round()
  const at = quantiles(Array.from({ length: rounds }, round))
  return row(name, at(0.5), unit, goal, [at(0.25), at(0.75)])
}

/** Reads quantiles of some figures. */
export function quantiles(figures: readonly number[]): (part: number) => number {
  const sorted = [...figures].sort((a, b) => a - b)
  return (part) => sorted[Math.floor(part * (sorted.length - 1))] ?? Number.NaN
}

const rounded = (n: number): number => (n >= 1000 ? Math.round(n) : Number(n.toPrecision(3)))
