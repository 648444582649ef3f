import { performance } from 'node:perf_hooks'

/** One row of the results. */
export interface Row {
  readonly name: string
  readonly value: number
  readonly unit: string
  readonly goal: string
  readonly met: boolean
  /** The quarter and three-quarter points of the rounds. */
  readonly spread: readonly [number, number]
}
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

/**
 * The ratio of two kinds of work: in each round both are done, in an order that changes, and the median of the rounds'
 * ratios is the result. Times of one process are compared with each other only.
 */
export function ratio(name: string, most: number, ours: Round, theirs: Round): Row {
  for (let n = 0; n < WARM_UP; n++) {
    ours()
    theirs()
  }
  const ratios: number[] = []
  for (let n = 0; n < ROUNDS; n++) {
    const oursFirst = n % 2 === 0
    const first = oursFirst ? ours() : theirs()
    const second = oursFirst ? theirs() : ours()
    ratios.push(oursFirst ? first / second : second / first)
  }
  ratios.sort((a, b) => a - b)
  const at = (part: number): number => rounded(ratios[Math.floor(part * (ratios.length - 1))] ?? Number.NaN)
  const value = at(0.5)
  return { name, value, unit: '×', goal: `≤ ${most}`, met: value <= most, spread: [at(0.25), at(0.75)] }
}

const rounded = (n: number): number => Math.round(n * 100) / 100
