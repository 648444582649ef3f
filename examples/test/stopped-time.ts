import { setImmediate as immediate } from 'node:timers/promises'
import type { BrowserContext, Page } from 'playwright-core'
import { HandClock } from '../../packages/venue/test/hand-clock.ts'

/** Time that stands still, in a venue and on its pages, until it is moved: what they show depends on no machine. */
export class StoppedTime extends HandClock {
  /** Stops the clock of every page that this context opens. */
  async stop(context: BrowserContext): Promise<void> {
    await context.addInitScript((at) => {
      performance.now = () => at
    }, this.at)
  }

  /** Moves the time on by this many ms, here and on the pages. Returns when all that was due has happened. */
  async passOn(ms: number, ...pages: readonly Page[]): Promise<void> {
    // The pages first: an update that came before their clocks moved would be taken for one from ahead of them.
    for (const page of pages)
      await page.evaluate((passed) => {
        const now = performance.now() + passed
        performance.now = () => now
      }, ms)
    const until = this.at + ms
    for (let next = this.next(until); next !== undefined; next = this.next(until)) {
      this.goTo(next)
      await immediate() // the match sends what came of it
    }
    this.at = until
  }
}
