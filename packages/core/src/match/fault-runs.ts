import type { Seat } from '../state/index.ts'

/** So many faults in a row are too many. */
const MOST = 20

/** As a snapshot has them, where there are any. */
export interface SavedRuns {
  readonly match: number
  readonly seats: readonly (readonly [seat: Seat, count: number])[]
}

/**
 * How many faults there were in a row: of timers, facts and settlings, and of each seat's actions. They are state, since
 * they decide what comes next, but no part of the hash: a step that fails leaves that as it was.
 */
export class FaultRuns {
  private match = 0
  private seats: Map<Seat, number> | undefined
  /** Whether anything is counted: in nearly all matches nothing ever is. */
  isCounting = false

  /** A step was taken back; of a seat if its own action threw. */
  add(seat: Seat | undefined): void {
    this.isCounting = true
    if (seat === undefined) this.match += 1
    else {
      this.seats ??= new Map()
      this.seats.set(seat, (this.seats.get(seat) ?? 0) + 1)
    }
  }

  /** A step was kept; `settled`: rules settled in it. */
  end(seat: Seat | undefined, settled: boolean): void {
    if (seat === undefined || settled) this.match = 0
    if (seat !== undefined) this.seats?.delete(seat)
    this.isCounting = this.match > 0 || (this.seats?.size ?? 0) > 0
  }

  /** True once, when the match has had too many. */
  takeVoid(): boolean {
    if (this.match < MOST) return false
    this.match = 0
    return true
  }

  isLimited(seat: Seat): boolean {
    return (this.seats?.get(seat) ?? 0) >= MOST
  }

  /** Everyone begins afresh. */
  reset(): void {
    this.match = 0
    this.seats = undefined
    this.isCounting = false
  }

  save(): SavedRuns | undefined {
    const { match, seats } = this
    return match === 0 && (seats === undefined || seats.size === 0)
      ? undefined
      : { match, seats: [...(seats ?? [])] }
  }

  load({ match, seats }: SavedRuns): void {
    this.match = match
    this.seats = new Map(seats)
    this.isCounting = true
  }
}
