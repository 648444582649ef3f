import { performance } from 'node:perf_hooks'

/** The clock that a venue runs on: this process's clock, or one that a test moves by hand. */
export interface VenueClock {
  /** Returns the time in ms from any origin. It never goes back. */
  now(): number
  /** Calls `wake` once after this many ms. Returns a function that cancels it. */
  wakeAfter(ms: number, wake: () => void): () => void
}

/** Maximum delay of Node's timers, in ms. A timer that is due later wakes early and sleeps again. */
const LONGEST_DELAY = 2 ** 31 - 1

/** This process's clock. Changes to the computer's date do not move it. */
export const processClock: VenueClock = {
  now: () => performance.now(),
  wakeAfter(ms, wake) {
    const timer = setTimeout(wake, Math.min(Math.max(0, ms), LONGEST_DELAY))
    return () => clearTimeout(timer)
  },
}
