import type { HostClock } from 'zinc-referee/host'

/** The clock of one match, which a referee may put on. */
export class SkippingClock implements HostClock {
  private readonly clock: HostClock
  private ahead = 0

  constructor(clock: HostClock) {
    this.clock = clock
  }

  now(): number {
    return this.clock.now() + this.ahead
  }

  wakeAfter(ms: number, wake: () => void): () => void {
    return this.clock.wakeAfter(ms, wake)
  }

  /** Lets this many ms pass at once. */
  skip(ms: number): void {
    this.ahead += ms
  }
}
