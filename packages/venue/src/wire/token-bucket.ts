/** So many at once, and so many a second after that. */
export interface Rate {
  /** So many at once. */
  readonly burst: number
  /** So many in a second, for ever. */
  readonly perSecond: number
}

/** Counts what somebody does, and says when it is too much: a bucket of tokens that fills with time. */
export class TokenBucket {
  private readonly rate: Rate
  private left: number
  private at: number

  /** `now`: ms on a clock that never goes back. */
  constructor(rate: Rate, now: number) {
    this.rate = rate
    this.left = rate.burst
    this.at = now
  }

  /** Takes a token. Returns false if there is none. */
  take(now: number): boolean {
    const { burst, perSecond } = this.rate
    this.left = Math.min(burst, this.left + ((now - this.at) / 1000) * perSecond)
    this.at = now
    if (this.left < 1) return false
    this.left -= 1
    return true
  }
}
