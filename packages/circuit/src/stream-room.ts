import type { Log } from '@zinc-referee/venue'

/** How often the size of the stream is looked at, in ms. */
const LOOK_EVERY = 5000

/**
 * Knows whether new matches may begin. Servers that are full lose messages, so a circuit stops before: what runs goes on, and
 * nothing new begins.
 */
export class StreamRoom {
  /** True while the stream has as many bytes as it may have. */
  isFull = false
  private readonly timer: NodeJS.Timeout | undefined

  constructor(bytes: () => Promise<number>, fullAt: number | undefined, log: Log) {
    if (fullAt === undefined) return
    const look = async (): Promise<void> => {
      const size = await bytes().catch(() => undefined)
      if (size === undefined || size >= fullAt === this.isFull) return
      this.isFull = !this.isFull
      if (this.isFull) log.warn({ bytes: size, fullAt }, 'circuit: full, no new matches begin')
      else log.info({ bytes: size, fullAt }, 'circuit: new matches begin again')
    }
    void look()
    this.timer = setInterval(() => void look(), LOOK_EVERY).unref()
  }

  close(): void {
    clearInterval(this.timer)
  }
}
