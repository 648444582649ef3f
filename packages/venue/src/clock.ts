import { performance } from 'node:perf_hooks'

/** The time that a venue lives by: this process's, or what a test hands in to move time by hand. */
export interface VenueClock {
  /** Ms since any beginning; never goes back. */
  now(): number
  /** Calls `wake` once, when this many ms have passed. Returns what calls it off. */
  wakeAfter(ms: number, wake: () => void): () => void
}

/** Timers of Node hold no longer delay than this, ms. Who is woken early asks again. */
const LONGEST_DELAY = 2 ** 31 - 1

/** This process's clock, which no change of the computer's date moves. */
export const processClock: VenueClock = {
  now: () => performance.now(),
  wakeAfter(ms, wake) {
    const timer = setTimeout(wake, Math.min(Math.max(0, ms), LONGEST_DELAY))
    return () => clearTimeout(timer)
  },
}
