import type { HostClock } from 'zinc-referee/host'

interface Wake {
  readonly due: number
  readonly wake: () => void
}

/** A clock that stands still until it is moved. What is due at once needs no time to pass. */
export class HandClock implements HostClock {
  protected at = 0
  readonly wakes: Set<Wake> = new Set()

  now = (): number => this.at

  wakeAfter = (ms: number, wake: () => void): (() => void) => {
    const entry = { due: this.at + Math.max(0, ms), wake }
    this.wakes.add(entry)
    if (ms <= 0) setImmediate(() => this.fire(entry))
    return () => this.wakes.delete(entry)
  }

  /** Moves the time on by this many ms; all that comes due happens at its time. */
  pass(ms: number): void {
    const until = this.at + ms
    for (let next = this.next(until); next !== undefined; next = this.next(until)) this.goTo(next)
    this.at = until
  }

  protected next(until: number): Wake | undefined {
    return [...this.wakes].filter(({ due }) => due <= until).sort((a, b) => a.due - b.due)[0]
  }

  protected goTo(entry: Wake): void {
    this.at = entry.due
    this.fire(entry)
  }

  private fire(entry: Wake): void {
    if (this.wakes.delete(entry)) entry.wake()
  }
}
