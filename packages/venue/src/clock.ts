import { performance } from 'node:perf_hooks'
import type { HostClock } from 'zinc-referee/host'

/** Maximum delay of Node's timers, in ms. A timer that is due later wakes early and sleeps again. */
const LONGEST_DELAY = 2 ** 31 - 1

/** This process's clock. Changes to the computer's date do not move it. */
export const processClock: HostClock = {
  now: () => performance.now(),
  wakeAfter(ms, wake) {
    if (ms <= 0) {
      const turn = setImmediate(wake)
      return () => clearImmediate(turn)
    }
    const timer = setTimeout(wake, Math.min(ms, LONGEST_DELAY))
    return () => clearTimeout(timer)
  },
}
