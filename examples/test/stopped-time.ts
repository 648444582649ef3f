import { setImmediate as immediate } from 'node:timers/promises'
import type { HostClock } from '@zinc-referee/venue'
import type { BrowserContext, Page } from 'playwright-core'

interface Wake {
  readonly due: number
  readonly wake: () => void
}

/** Time that stands still, in a venue and on its pages, until it is moved: what they show depends on no machine. */
export class StoppedTime implements HostClock {
  private at = 0
  private readonly wakes = new Set<Wake>()

  now = (): number => this.at

  wakeAfter = (ms: number, wake: () => void): (() => void) => {
    const entry = { due: this.at + Math.max(0, ms), wake }
    this.wakes.add(entry)
    // What is due now needs no time to pass.
    if (ms <= 0) setImmediate(() => this.fire(entry))
    return () => this.wakes.delete(entry)
  }

  /** Stops the clock of every page that this context opens. */
  async stop(context: BrowserContext): Promise<void> {
    await context.addInitScript((at) => {
      performance.now = () => at
    }, this.at)
  }

  /** Moves the time on by this many ms, here and on the pages. Returns when all that was due has happened. */
  async pass(ms: number, ...pages: readonly Page[]): Promise<void> {
    // The pages first: an update that came before their clocks moved would be taken for one from ahead of them.
    for (const page of pages)
      await page.evaluate((passed) => {
        const now = performance.now() + passed
        performance.now = () => now
      }, ms)
    const until = this.at + ms
    for (let next = this.next(until); next !== undefined; next = this.next(until)) {
      this.at = next.due
      this.fire(next)
      await immediate() // the match sends what came of it
    }
    this.at = until
  }

  private next(until: number): Wake | undefined {
    return [...this.wakes].filter(({ due }) => due <= until).sort((a, b) => a.due - b.due)[0]
  }

  private fire(entry: Wake): void {
    if (this.wakes.delete(entry)) entry.wake()
  }
}
